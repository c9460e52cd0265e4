import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiProblem, wordsOf } from "@/api/problem";
import type { DayAheadAsk, KeptDay } from "@/api/types";
import { perform, type Verb } from "@/app/act";
import { modelsQuery } from "@/app/queries";
import { dayAheadQuery, keptDayQuery } from "@/app/tomorrow";
import { usePreferences } from "@/format/preferences";
import { localMinute, nextAt, timeOf } from "@/format/time";
import { Waiting } from "@/parts/Waiting";
import { DayAnswer } from "@/stages/run/tomorrow/DayAnswer";
import { DayForm } from "@/stages/run/tomorrow/DayForm";
import { draftDayQuery, keepDay, putDayAway } from "@/stages/run/tomorrow/queries";

/** So many flights of the first model, and of one that is added, until somebody says how many. */
const FLIGHTS = 3;
/** A day begins then until somebody says otherwise. */
const BEGINS = "10:00";

/**
 * The day ahead: so many flights of several models from an hour on, and what that takes. It is put together,
 * kept, ticked off by the log, and put away.
 */
export function TomorrowPart({ model }: { model: string }) {
  const { data: kept } = useQuery(keptDayQuery);
  const { data: models } = useQuery(modelsQuery);
  const [draft, setDraft] = useState<DayAheadAsk | undefined>();
  const [told, setTold] = useState<ReadonlySet<string>>(new Set());
  if (!kept || !models || models.length === 0) return null;
  const begin = (from: DayAheadAsk) => {
    setTold(new Set(from.wishes.map((w) => w.model)));
    setDraft(from);
  };
  const fresh: DayAheadAsk = {
    wishes: [{ model, flights: FLIGHTS, minutes: null }],
    at: null,
    start: nextAt(BEGINS),
    hours: 6,
    there: null,
    attended: null,
  };
  return (
    <section aria-label="The day ahead" className="mt-6 border-b pb-4 lg:mt-0">
      {draft ? (
        <Draft
          kept={kept}
          draft={draft}
          told={told}
          onTold={(slug) => setTold(new Set([...told, slug]))}
          onChange={setDraft}
          onDone={() => setDraft(undefined)}
        />
      ) : kept.asked && !kept.over ? (
        <Kept kept={kept} asked={kept.asked as DayAheadAsk} onChange={begin} />
      ) : (
        <>
          <h2 className="heading">The day ahead</h2>
          <p className="mt-1 text-plain text-ink-soft">
            {kept.over
              ? "The day that was planned is over."
              : "So many runs of several models: which packs, what to charge by when, what to pack."}
          </p>
          <button
            type="button"
            className="control mt-2"
            onClick={() => {
              if (kept.over && kept.asked) begin({ ...(kept.asked as DayAheadAsk), start: nextAt(BEGINS) });
              else setDraft(fresh);
            }}
          >
            Plan the day ahead
          </button>
        </>
      )}
    </section>
  );
}

type DraftProps = {
  kept: KeptDay;
  draft: DayAheadAsk;
  /** Models of which somebody said how many. */
  told: ReadonlySet<string>;
  onTold: (model: string) => void;
  onChange: (draft: DayAheadAsk) => void;
  onDone: () => void;
};

function Draft({ kept, draft, told, onTold, onChange, onDone }: DraftProps) {
  const queries = useQueryClient();
  const { data, error, isFetching, isPlaceholderData } = useQuery(draftDayQuery(draft));
  const problems = error instanceof ApiProblem ? error.fields : new Map<string, string>();
  const nowhere = [...problems.keys()].every((f) => !FIELDS.some((known) => f.startsWith(known)));
  const keep = async () => {
    const done = await perform(queries, {
      act: () => keepDay(draft, kept.version),
      touches: ["day", "life"],
      fails: "The day could not be kept.",
      says: () => "The day is kept.",
      undo: (now) => asBefore(kept, now),
    });
    if (done) onDone();
  };
  return (
    <>
      <h2 className="heading">The day ahead</h2>
      <DayForm
        draft={draft}
        answer={data}
        problems={problems}
        told={told}
        flights={FLIGHTS}
        onTold={onTold}
        onChange={onChange}
      />
      <p className="print-hidden mt-3 flex flex-wrap gap-3">
        <button
          type="button"
          className="primary"
          disabled={!data || Boolean(error)}
          onClick={() => void keep()}
        >
          Keep this day
        </button>
        <button type="button" className="control" onClick={onDone}>
          {kept.asked ? "Leave it as it was" : "Not now"}
        </button>
      </p>
      {error && nowhere && (
        <p role="alert" className="mt-2 text-plain text-alert">
          {wordsOf(error, "The day could not be planned.")}
        </p>
      )}
      {!data && !error && <Waiting words="Planning the day…" className="mt-3" />}
      {data && !error && (
        <div aria-busy={isFetching} className={isPlaceholderData ? "opacity-60" : ""}>
          <DayAnswer day={data} asked={draft} />
        </div>
      )}
    </>
  );
}

/** What the form tells at a field of its own. */
const FIELDS = ["start", "hours", "end", "wishes", "attended", "there"];

type KeptProps = { kept: KeptDay; asked: DayAheadAsk; onChange: (asked: DayAheadAsk) => void };

function Kept({ kept, asked, onChange }: KeptProps) {
  const queries = useQueryClient();
  const p = usePreferences();
  const { data, error } = useQuery(dayAheadQuery);
  const away = () =>
    perform(queries, {
      act: () => putDayAway(kept.version),
      touches: ["day", "life"],
      fails: "The day could not be put away.",
      says: () => "The day is put away.",
      undo: (now) => asBefore(kept, now),
    });
  return (
    <>
      <h2 className="heading">
        {asked.start.slice(0, 10) === localMinute().slice(0, 10) ? "Today" : "The day ahead"},{" "}
        {timeOf(asked.start, p, localMinute())}
      </h2>
      {!data && !error && <Waiting words="Planning the day…" className="mt-2" />}
      {error && !data && (
        <p role="alert" className="mt-1 text-plain text-alert">
          {wordsOf(error, "The day could not be planned.")}
        </p>
      )}
      {data && <DayAnswer day={data} asked={asked} kept />}
      <p className="print-hidden mt-3 flex flex-wrap gap-4">
        <button type="button" className="control" onClick={() => onChange(asked)}>
          Change the day
        </button>
        <button type="button" className="action" onClick={() => void away()}>
          Put it away
        </button>
        <button type="button" className="action" onClick={() => window.print()}>
          Print
        </button>
      </p>
    </>
  );
}

/** The day as it was kept before, or none. */
function asBefore(was: KeptDay, now: KeptDay): Verb {
  return {
    act: () => (was.asked ? keepDay(was.asked as DayAheadAsk, now.version) : putDayAway(now.version)),
    touches: ["day", "life"],
    fails: "The day could not be put back.",
    says: () => (was.asked ? "The day is as it was." : "The day is put away."),
    undo: (again) => asBefore(now, again as KeptDay),
  };
}
