import type { ReactNode } from "react";
import { handsWords } from "@/format/hands";

type Props = {
  at: string;
  /** The time in words, as the list has it. */
  when: string;
  /** Whose it was; empty where nobody knows. */
  hands: string;
  /** What can be done about it. */
  act?: { name: string; label: string; run: () => void } | undefined;
  /** What is to be minded about it. */
  below?: string;
  children: ReactNode;
};

/** One act in a list of what was done: when, what, by whose hands, and how it is taken back. */
export function ActRow({ at, when, hands, act, below, children }: Props) {
  return (
    <li className="flex items-baseline gap-3 py-1">
      <time className="number shrink-0 text-small text-ink-faint" dateTime={at}>
        {when}
      </time>
      <span className="min-w-0 flex-1">
        {children}
        {hands && <span className="text-small text-ink-faint"> · {handsWords(hands)}</span>}
        {below && <span className="block text-small font-semibold">{below}</span>}
      </span>
      {act && (
        <button
          type="button"
          className="action print-hidden shrink-0 text-small"
          aria-label={act.label}
          onClick={act.run}
        >
          {act.name}
        </button>
      )}
    </li>
  );
}
