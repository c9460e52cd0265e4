import { lazy, type ReactNode, Suspense, useRef, useState } from "react";
import type { Working } from "@/api/types";

const FigureWorking = lazy(() => import("@/parts/FigureWorking"));

type Props = {
  working: Working | undefined;
  label: string;
  className?: string;
  /** Called when the working is asked for, where it has yet to be fetched. */
  onAsk?: () => void;
  /** Where the tab key goes by row: whether it stops here. */
  tab?: 0 | -1;
  children: ReactNode;
};

/** A number that opens its working: each step with formula, numbers and rule. There are many on a screen, so
 *  that the popover and what it needs are there only while it is open. */
export function Figure({ working, label, className = "", onAsk, tab, children }: Props) {
  const [open, setOpen] = useState(false);
  const button = useRef<HTMLButtonElement>(null);
  if (!working && !onAsk) return <span className={className}>{children}</span>;
  return (
    <>
      <button
        ref={button}
        type="button"
        tabIndex={tab}
        aria-haspopup="dialog"
        aria-expanded={open}
        data-state={open ? "open" : "closed"}
        className={`hit decoration-dotted underline-offset-4 hover:underline data-[state=open]:underline
          ${className}`}
        onClick={() => {
          if (!open) onAsk?.();
          setOpen(!open);
        }}
      >
        {children}
        <span className="sr-only"> {label}: show working</span>
      </button>
      {open && (
        <Suspense fallback={null}>
          <FigureWorking at={button} label={label} working={working} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}
