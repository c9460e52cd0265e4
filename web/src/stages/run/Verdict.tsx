import type { Go } from "@/api/types";
import { usePreferences } from "@/format/preferences";
import { between, worded } from "@/format/quantity";
import { clock, timeWords } from "@/format/time";
import { Figure } from "@/parts/Figure";
import type { ByKit } from "@/stages/run/kit";

const WORDS = { go: "Go", careful: "Go, with care", no_go: "No go" } as const;

const LOOKS = { go: "border-fjord", careful: "border-ink", no_go: "border-alert text-alert" } as const;

type Workings =
  | "working"
  | "budget_working"
  | "alarm_working"
  | "cautions"
  | "cells"
  | "pack"
  | "pack_v"
  | "noted";
/** What is shown of a verdict: the server's, or the kit's, which has no workings. */
export type Shown = Omit<Go, Workings> & Partial<Pick<Go, Workings>>;

/** Why there is no verdict of the server, and what the kit says to that. */
export function WithoutLine({ taken, made }: { taken: ByKit | undefined; made: string | undefined }) {
  const p = usePreferences();
  const why =
    taken?.said === "nothing"
      ? `The field kit, made ${timeWords(made ?? "", p)}, says nothing: ${taken.why}`
      : taken
        ? undefined
        : "There is no field kit of this pack here: it is fetched while there is a line.";
  return (
    <p role="alert" className="mt-3 border-l-4 border-alert pl-2 text-plain">
      No line to the computer. {why && `${why} Go by your own reading. `}The timer and the log work all the
      same.
    </p>
  );
}

/** Go or no go, why, and what to set; `by` is the hour of the kit that says so. */
export function Verdict({ go, by }: { go: Shown; by?: string | undefined }) {
  const p = usePreferences();
  return (
    <section aria-label="Go or no go" className="mt-4" aria-live="polite">
      <p className={`border-l-8 py-1 pl-3 text-display font-bold leading-9 ${LOOKS[go.verdict]}`}>
        {WORDS[go.verdict]}
      </p>
      {by && <p className="mt-1 text-plain font-semibold">By the field kit, made {timeWords(by, p)}.</p>}
      <ul className="mt-2 space-y-1">
        {go.reasons.map((r) => (
          <li key={r.id + r.sentence} className={r.verdict === "no_go" ? "font-semibold" : "text-ink-soft"}>
            {r.sentence}
          </li>
        ))}
      </ul>
      {go.verdict !== "no_go" && (
        <dl className="mt-3 grid grid-cols-3 gap-3">
          <Fact name="timer">
            <Figure working={go.working} label="Timer">
              {clock(go.timer_s)}
            </Figure>
          </Fact>
          <Fact name="use at most">
            <Figure working={go.budget_working} label="Use at most">
              {worded("charge", go.budget_mah, p)}
            </Figure>
          </Fact>
          <Fact name={`alarm, ${worded("cell_voltage", go.alarm_cell_v)} a cell`}>
            <Figure working={go.alarm_working} label="Alarm">
              {worded("voltage", go.alarm_v, p)}
            </Figure>
          </Fact>
        </dl>
      )}
      {go.verdict !== "no_go" && (
        <p className="mt-1 text-plain text-ink-soft">
          Lands after about {worded("minutes", go.minutes, p)} (
          {between("minutes", go.minutes_low, go.minutes_high, " to ")}).
        </p>
      )}
      {go.verdict !== "no_go" && (
        <ul className="mt-2 text-plain text-ink-soft">
          {go.cautions?.map((c) => (
            <li key={c.id}>{c.sentence}</li>
          ))}
        </ul>
      )}
    </section>
  );
}

function Fact({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div className="flex flex-col-reverse">
      <dt className="text-small text-ink-faint">{name}</dt>
      <dd className="number text-title font-semibold leading-7">{children}</dd>
    </div>
  );
}
