import { Popover } from "radix-ui";
import { type RefObject, useRef } from "react";
import type { Working } from "@/api/types";

type Props = {
  at: RefObject<HTMLButtonElement | null>;
  label: string;
  working: Working | undefined;
  onClose: () => void;
};

/** The working of a number, opened beside it. */
export default function FigureWorking({ at, label, working, onClose }: Props) {
  const left = useRef(false);
  return (
    <Popover.Root open onOpenChange={(open) => open || onClose()}>
      <Popover.Anchor virtualRef={at as RefObject<HTMLButtonElement>} />
      <Popover.Portal>
        <Popover.Content
          aria-label={`Working: ${label}`}
          tabIndex={0}
          collisionPadding={12}
          sideOffset={6}
          onInteractOutside={(event) => {
            // the number itself closes it by its click
            if (event.target instanceof Node && at.current?.contains(event.target)) event.preventDefault();
            else left.current = true;
          }}
          onCloseAutoFocus={(event) => {
            event.preventDefault();
            if (!left.current) at.current?.focus();
          }}
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
