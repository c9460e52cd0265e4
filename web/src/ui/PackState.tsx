const PLATES = 4;
const FILLED = { full: 4, part: 3, stored: 2, spent: 1, too_low: 0 } as const;
const WORDS = {
  full: "full",
  part: "part full",
  stored: "stored",
  spent: "spent",
  too_low: "too low",
} as const;

export type State = keyof typeof FILLED;

/** A pack's state as filled plates, with its word: in ink, not in colour. Where its charge is known, the plates go by that. */
export function PackState({ state, soc }: { state: State; soc?: number | undefined }) {
  const count = soc === undefined ? FILLED[state] : byCharge(state, soc);
  return (
    <span className="inline-flex items-center gap-1.5 whitespace-nowrap">
      <svg width="16" height="14" viewBox="0 0 16 14" aria-hidden="true">
        {Array.from({ length: PLATES }, (_, i) => {
          const filled = i >= PLATES - count;
          return (
            <rect
              // biome-ignore lint/suspicious/noArrayIndexKey: the plates are their places
              key={i}
              x="0.5"
              y={0.5 + i * 3.5}
              width="15"
              height="2.5"
              fill={filled ? "var(--ink)" : "none"}
              stroke="var(--ink)"
              strokeWidth="0.7"
            />
          );
        })}
      </svg>
      {WORDS[state]}
    </span>
  );
}

/** All plates mean full and none means too low; what lies between shows one to three. */
function byCharge(state: State, soc: number): number {
  if (state === "full" || state === "too_low") return FILLED[state];
  return Math.min(PLATES - 1, Math.max(1, Math.round(soc * PLATES)));
}
