import type { FitVerdict } from "@/api/types";

/** The verdict of a pack in a model, in the same words everywhere. */
export const FIT_WORDS: Record<FitVerdict, string> = {
  does: "does the job",
  care: "goes, with care",
  unknown: "not known",
  wont: "will not do",
};

/** Two plug halves: together, touching at a corner, in doubt, apart. Shape tells, and the word beside it. */
export function FitMark({ verdict }: { verdict: FitVerdict }) {
  const apart = { does: 0, care: 3, unknown: 3, wont: 8 }[verdict];
  return (
    <svg width="30" height="12" viewBox="0 0 30 12" className="shrink-0" aria-hidden="true">
      <rect
        x="0.75"
        y="1"
        width={14 - apart}
        height="10"
        fill={verdict === "unknown" ? "none" : "var(--ink)"}
        stroke="var(--ink)"
        strokeWidth="1.5"
        strokeDasharray={verdict === "unknown" ? "2 2" : undefined}
      />
      <rect
        x={15.25 + apart}
        y="1"
        width={14 - apart}
        height="10"
        fill="none"
        stroke="var(--ink)"
        strokeWidth="1.5"
        strokeDasharray={verdict === "unknown" ? "2 2" : undefined}
      />
      {verdict === "care" && <rect x="10" y="4.5" width="10" height="3" fill="var(--ink)" />}
    </svg>
  );
}

/** The mark with its word. */
export function FitWord({ verdict }: { verdict: FitVerdict }) {
  return (
    <span className="inline-flex items-center gap-1.5 whitespace-nowrap">
      <FitMark verdict={verdict} />
      {FIT_WORDS[verdict]}
    </span>
  );
}
