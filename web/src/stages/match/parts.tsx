import type { Plate } from "@/api/types";
import type { Preferences } from "@/format/preferences";
import { worded } from "@/format/quantity";

type VerdictProps = { where: string; verdict: "fits" | "with" | "no"; sentence: string };

/** A side's answer in words; the mark before it is a closed, half or open joint. */
export function Verdict({ where, verdict, sentence }: VerdictProps) {
  return (
    <div>
      <h2 className="heading">{where}</h2>
      <p className="mt-0.5 flex items-start gap-2 text-lead font-semibold leading-5">
        <JointMark verdict={verdict} />
        <span>{sentence}</span>
      </p>
    </div>
  );
}

/** Two plug halves: together, joined by a third piece, or apart. */
export function JointMark({ verdict }: { verdict: "fits" | "with" | "no" }) {
  const apart = verdict === "fits" ? 0 : verdict === "with" ? 5 : 8;
  return (
    <svg width="30" height="12" viewBox="0 0 30 12" className="mt-1 shrink-0" aria-hidden="true">
      <rect x="0" y="1" width={15 - apart} height="10" fill="var(--ink)" />
      <rect
        x={15 + apart}
        y="1"
        width={15 - apart}
        height="10"
        fill="none"
        stroke="var(--ink)"
        strokeWidth="1.5"
      />
      {verdict === "with" && <rect x="11" y="4" width="8" height="4" fill="var(--ink)" />}
    </svg>
  );
}

type WithHeat = Plate & { drop_v?: number | null; heat_w?: number | null; peak_heat_w?: number | null };

/** Drop and heat of a joint, where it has any to speak of. */
export function jointNote(joint: WithHeat, p: Preferences): string | undefined {
  const { drop_v: drop, heat_w: watts, peak_heat_w: peak } = joint;
  if (typeof drop !== "number" || typeof watts !== "number") return undefined;
  const tail = typeof peak === "number" && peak >= 1 ? ` (peak ${worded("heat", peak, p)})` : "";
  const carried = joint.ratings ? `${joint.ratings}; ` : "";
  return `${carried}${worded("millivolts", drop * 1000)}, ${worded("heat", watts, p)}${tail}`;
}

/** What nobody gave and this hangs on, with how to find it. */
export function Questions({ words }: { words: readonly string[] }) {
  return words.map((sentence) => (
    <p
      key={sentence}
      className="mt-2 border-l-4 border-dashed border-rule-strong pl-2 text-small text-ink-soft"
    >
      {sentence}
    </p>
  ));
}
