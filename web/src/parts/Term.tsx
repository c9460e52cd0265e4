import { lazy, type ReactNode, Suspense, useEffect, useId, useRef, useState } from "react";

const TermMeaning = lazy(() => import("@/parts/TermMeaning"));
const SOON_MS = 200;
/** Long enough to go from the word to what it says. */
const AWAY_MS = 150;

/** A word of the trade; hover or focus says what it means. */
export function Term({ word, children }: { word: string; children?: ReactNode }) {
  const id = useId();
  const button = useRef<HTMLButtonElement>(null);
  const [shown, setShown] = useState(false);
  const soon = useRef<ReturnType<typeof setTimeout>>(undefined);
  const after = (ms: number, show: boolean) => {
    clearTimeout(soon.current);
    soon.current = setTimeout(() => setShown(show), ms);
  };
  const now = (show: boolean) => {
    clearTimeout(soon.current);
    setShown(show);
  };
  useEffect(() => () => clearTimeout(soon.current), []);
  return (
    <>
      <button
        ref={button}
        type="button"
        aria-describedby={shown ? id : undefined}
        className="hit cursor-help border-b border-dotted border-rule-strong text-left"
        onPointerEnter={() => after(SOON_MS, true)}
        onPointerLeave={() => after(AWAY_MS, false)}
        onFocus={() => now(true)}
        onBlur={() => now(false)}
        onClick={() => now(true)}
      >
        {children ?? word}
      </button>
      {shown && (
        <Suspense fallback={null}>
          <TermMeaning id={id} at={button} word={word} onStay={() => now(true)} onClose={() => now(false)} />
        </Suspense>
      )}
    </>
  );
}
