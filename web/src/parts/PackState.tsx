import type { PackNow } from "@/api/types";

const PLATES = 4;
const FILLED = { full: 4, part: 3, stored: 2, spent: 1, too_low: 0 } as const;
const WORDS = {
  full: "full",
  part: "part full",
  stored: "stored",
  spent: "spent",
  too_low: "too low",
  charging: "charging",
  cooling: "cooling",
  quarantined: "set apart",
  retired: "retired",
} as const;

/** A state in a word. */
export function stateWord(state: keyof typeof WORDS | null): string {
  return state === null ? "not read" : WORDS[state];
}

type Charge = keyof typeof FILLED;
type Props = { now: Pick<PackNow, "state" | "charge" | "lowest_soc"> };

/**
 * How a pack is now, in a word, and how full as filled plates: in ink, not in colour. Nothing while nobody
 * knows.
 */
export function PackState({ now }: Props) {
  if (!now.state) return null;
  const { charge, lowest_soc: soc } = now;
  const count = charge === null ? 0 : soc === null ? FILLED[charge] : byCharge(charge, soc);
  const aside = now.state !== charge;
  return (
    <span className={`inline-flex items-center gap-1.5 whitespace-nowrap ${aside ? "font-semibold" : ""}`}>
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
      {WORDS[now.state]}
    </span>
  );
}

/** All plates mean full and none means too low; what lies between shows one to three. */
function byCharge(charge: Charge, soc: number): number {
  if (charge === "full" || charge === "too_low") return FILLED[charge];
  return Math.min(PLATES - 1, Math.max(1, Math.round(soc * PLATES)));
}
