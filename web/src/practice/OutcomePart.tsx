import { Link } from "@tanstack/react-router";
import type { ReactNode } from "react";
import type { PracticeJudged, PracticeKind, PracticeProgress } from "@/api/types";
import { useLastModel } from "@/app/useLastModel";
import { minutesWords } from "@/format/time";
import { Figure } from "@/parts/Figure";
import { SeenThrough } from "@/practice/SeenThrough";

type Props = {
  judged: PracticeJudged;
  kind: PracticeKind | undefined;
  /** How far that brings one, where somebody is remembered. */
  today: PracticeProgress | undefined;
  /** How the row of what is pressed next looks. */
  bar: string;
  children: ReactNode;
};

const PLACES = {
  gear: "My gear",
  size: "Size",
  match: "Match",
  charge: "Charge",
  run: "Run",
  keep: "Keep",
  safety: "Safety",
} as const;

/** What came of it all: seen through, the working, where the program does the same for real. */
export function OutcomePart({ judged, kind, today, bar, children }: Props) {
  const model = useLastModel();
  const to = kind?.leads_to ?? "match";
  return (
    <section aria-label="What came of it" className="mt-5 max-w-3xl bg-ground pt-2">
      <p
        role="status"
        className={judged.outcome === "dangerous" ? "font-semibold text-alert" : "font-semibold"}
      >
        {SAID[judged.outcome]}
      </p>
      {judged.ran && <SeenThrough ran={judged.ran} />}
      <p className="mt-3 flex flex-wrap items-baseline gap-x-5 gap-y-1">
        <Figure working={judged.working} label={judged.working.title} className="action">
          Show the working
        </Figure>
        {to === "safety" ? (
          <Link to="/safety" className="action">
            The same in the program: Safety
          </Link>
        ) : to === "gear" ? (
          <Link to="/gear/$kind" params={{ kind: "packs" }} className="action">
            The same for your packs: My gear
          </Link>
        ) : (
          <Link to={`/${to}/$model`} params={{ model }} className="action">
            The same for real: {PLACES[to]}
          </Link>
        )}
        {judged.rule && <span className="text-small text-ink-faint">judged by {judged.rule}</span>}
      </p>
      <p className={`mt-2 ${bar}`}>
        {children}
        {today && <span className="text-small text-ink-faint">{todayWords(today)}</span>}
      </p>
    </section>
  );
}

const SAID = {
  right: "All of it is right.",
  wasteful: "Nothing burns, and yet it is not right.",
  dangerous: "On a real bench this would have been dangerous.",
};

function todayWords(p: PracticeProgress): string {
  if (p.enough) return `${minutesWords(p.today_s / 60)} today. That is enough; come back tomorrow.`;
  return `${Math.round(p.today_s)} s of today’s five minutes.`;
}
