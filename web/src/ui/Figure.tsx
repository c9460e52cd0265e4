import { Popover } from "radix-ui";
import type { ReactNode } from "react";
import type { Working } from "@/api/types";

type Props = {
  working: Working | undefined;
  label: string;
  className?: string;
  /** Called when the working is asked for, where it has yet to be fetched. */
  onAsk?: () => void;
  children: ReactNode;
};

/** A number that opens its working: each step with formula, numbers and rule. */
export function Figure({ working, label, className = "", onAsk, children }: Props) {
  if (!working && !onAsk) return <span className={className}>{children}</span>;
  return (
    <Popover.Root onOpenChange={(open) => open && onAsk?.()}>
      <Popover.Trigger
        className={`decoration-dotted underline-offset-4 hover:underline data-[state=open]:underline
          ${className}`}
      >
        {children}
        <span className="sr-only"> {label}: show working</span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={`Working: ${label}`}
          tabIndex={0}
          collisionPadding={12}
          sideOffset={6}
          className="z-40 max-h-[80vh] w-[26rem] max-w-[94vw] overflow-y-auto border border-rule-strong
            bg-sheet p-4 text-left outline-none font-(family-name:--font-words) text-plain font-normal
            tracking-normal"
        >
          {working ? <Steps working={working} /> : <p className="text-ink-faint">Working it out…</p>}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Steps({ working }: { working: Working }) {
  return (
    <>
      <h3 className="mb-2 font-semibold">{working.title}</h3>
      <ol className="space-y-2">
        {working.steps.map((step) => (
          <li key={step.label}>
            <div className="flex flex-wrap justify-between gap-x-3">
              <span className="text-ink-soft">{step.label}</span>
              <span className="text-small text-ink-faint">{step.formula}</span>
            </div>
            <div className="number text-small">{step.numbers}</div>
            {step.rule && <div className="text-small text-ink-faint">{step.rule}</div>}
          </li>
        ))}
      </ol>
      {working.note && <p className="mt-3 border-t pt-2 text-small text-ink-faint">{working.note}</p>}
    </>
  );
}
