import { Link } from "@tanstack/react-router";
import type { ReactNode } from "react";
import type { PracticeJudged, PracticeKind, PracticeProgress } from "@/api/types";
import { carried, STAGES } from "@/app/stages";
import { useLastModel } from "@/app/useLastModel";
import { ownedId } from "@/format/packId";
import { minutesWords } from "@/format/time";
import { Figure } from "@/parts/Figure";
import { SeenThrough } from "@/practice/SeenThrough";

type Props = {
  judged: PracticeJudged;
  kind: PracticeKind | undefined;
  /** How far that brings one, where somebody is remembered. */
  today: PracticeProgress | undefined;
  /** The tag of the pack that it was about, if that is one's own. */
  tag: string | undefined;
  /** How the row of what is pressed next looks. */
  bar: string;
  children: ReactNode;
};

/** What came of it all: seen through, the working, where the program does the same for real. */
export function OutcomePart({ judged, kind, today, tag, bar, children }: Props) {
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
        <ForReal to={to} tag={tag} />
        {judged.rule && <span className="text-small text-ink-faint">judged by {judged.rule}</span>}
      </p>
      <p className={`mt-2 ${bar}`}>
        {children}
        {today?.enough && <span className="text-small text-ink-faint">{todayWords(today)}</span>}
      </p>
    </section>
  );
}

type RealProps = { to: PracticeKind["leads_to"]; tag: string | undefined };

/** The place in the program that does the same for real; with the pack that it was about, if that is one's
 *  own. */
function ForReal({ to, tag }: RealProps) {
  const model = useLastModel();
  if (to === "safety")
    return (
      <Link to="/safety" className="action">
        The same for real: Safety
      </Link>
    );
  if (to === "gear")
    return (
      <Link to="/gear/$kind" params={{ kind: "packs" }} className="action">
        The same for real: My gear
      </Link>
    );
  const stage = STAGES.find((x) => x.to === `/${to}/$model`);
  if (!stage) return null;
  return (
    <Link
      to={stage.to}
      params={{ model }}
      search={carried(stage.to, tag === undefined ? {} : { pack: ownedId(tag) })}
      className="action"
    >
      The same for real: {stage.name}
    </Link>
  );
}

const SAID = {
  right: "All of it is right.",
  wasteful: "Nothing burns, and yet it is not right.",
  dangerous: "On a real bench this would have been dangerous.",
};

export function todayWords(p: PracticeProgress): string {
  if (p.enough) return `${minutesWords(p.today_s / 60)} today. That is enough; come back tomorrow.`;
  return `${Math.round(p.today_s)} s of today’s five minutes.`;
}
