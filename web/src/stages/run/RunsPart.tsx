import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import type { Job, Model, RunMend, Runs } from "@/api/types";
import { useAct, type Verb } from "@/app/act";
import { notify } from "@/app/notices";
import { modelQuery } from "@/app/queries";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { inWords } from "@/format/sentence";
import { momentWords } from "@/format/time";
import { readTyped } from "@/format/typed";
import { bringRunBack, keepJob, learn, mendRun, runsQuery, takeRunAway } from "@/stages/run/queries";

/** The model's runs, and the average draw they teach, offered to Size. */
export function RunsPart({ model }: { model: string }) {
  const { data } = useQuery(runsQuery(model));
  const queries = useQueryClient();
  const act = useAct();
  const p = usePreferences();
  if (!data || data.runs.length === 0) return null;
  const take = () => {
    const before = queries.getQueryData(modelQuery(model).queryKey)?.job;
    return act({
      act: async () => {
        await learn(model);
        return queries.fetchQuery({ ...modelQuery(model), staleTime: 0 });
      },
      touches: ["gear", "life"],
      fails: "It could not be kept.",
      says: () => "Size now takes the draw from the log.",
      ...(before && { undo: (made: Model) => untakeVerb(before, made.version) }),
    });
  };
  const untakeVerb = (job: Job, from: string): Verb => ({
    act: () => keepJob(model, job, from),
    touches: ["gear", "life"],
    fails: "It could not be taken back.",
  });
  const complete = async (id: number, text: string) => {
    if (text.trim() === "") return;
    const read = readTyped(text, "mAh");
    if ("problem" in read) notify(read.problem, { wrong: true });
    else
      await act({
        act: () => mendRun(id, { put_back_mah: read.value }),
        touches: ["life"],
        fails: "It could not be kept.",
      });
  };
  const away = (key: string) =>
    act({
      act: () => takeRunAway(key),
      touches: ["life"],
      fails: "It could not be done.",
      says: () => "Took the run away",
      undo: () => ({
        act: () => bringRunBack(key),
        touches: ["life"],
        fails: "It could not be brought back.",
      }),
    });
  const { learned } = data;
  const sameAmps = learned && worded("current", learned.average_a, p) === worded("current", data.now_a, p);
  return (
    <section aria-label="Runs" className="mt-6 border-t pt-3">
      <h2 className="heading">Runs</h2>
      {learned ? (
        <p className="mt-1">
          From {learned.count} runs{" "}
          {learned.by_volts > 0 && `(${learned.by_volts} of them by their landing volts) `}it draws{" "}
          <span className="number font-semibold">{worded("current", learned.average_a, p)}</span> on average,
          ± {Math.round(learned.spread * 100)} %;{" "}
          <Link to="/size/$model" params={{ model }} className="action">
            Size
          </Link>{" "}
          {sameAmps ? (
            "reckons with the same."
          ) : (
            <>
              reckons with {worded("current", data.now_a, p)}.{" "}
              <button type="button" className="action" onClick={() => void take()}>
                Take it from the log
              </button>
            </>
          )}
        </p>
      ) : (
        <p className="mt-1 text-plain text-ink-soft">
          Three runs with what was put back, or with their volts at rest after landing, and the log teaches
          Size what this model draws.
        </p>
      )}
      <ul className="mt-2 divide-y divide-hollow text-plain">
        {data.runs.slice(0, 12).map((r) => (
          <li key={r.id} className="flex flex-wrap items-baseline gap-x-3 py-1.5">
            <span className="number font-semibold">{r.pack}</span>
            <span className="text-ink-faint">{momentWords(r.at, p)}</span>
            <span className="number">{worded("minutes", r.minutes, p)}</span>
            {r.put_back_mah === null ? (
              <label className="text-ink-faint">
                put back{" "}
                <input
                  inputMode="decimal"
                  aria-label={`Put back after ${r.pack}, mAh`}
                  className="number field w-16 text-right text-ink"
                  onBlur={(e) => void complete(r.id, e.target.value)}
                  onKeyDown={(e) => e.key === "Enter" && void complete(r.id, e.currentTarget.value)}
                />{" "}
                mAh
              </label>
            ) : (
              <span className="number text-ink-soft">{worded("charge", r.put_back_mah, p)} put back</span>
            )}
            {r.landing_cell_v !== null && (
              <span className="text-ink-faint">
                landed at {worded("cell_voltage", r.landing_cell_v)} a cell
              </span>
            )}
            <button
              type="button"
              className="action ml-auto text-small"
              aria-label={`Take away the run of ${r.pack}, ${worded("minutes", r.minutes, p)}`}
              onClick={() => void away(r.key)}
            >
              Take away
            </button>
            {r.question && <Doubt run={r} />}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** A figure of a run that looks like a slip: mended with a press, or said to be so. */
function Doubt({ run }: { run: Runs["runs"][number] }) {
  const act = useAct();
  const p = usePreferences();
  const q = run.question;
  if (!q) return null;
  const mend = (better: RunMend) =>
    act({ act: () => mendRun(run.id, better), touches: ["life"], fails: "It could not be kept." });
  const minutes = q.field === "minutes";
  return (
    <p className="basis-full border-l-4 border-alert pl-2 text-small">
      {inWords(q.sentence)} It counts for nothing until then.{" "}
      {q.meant !== (minutes ? run.minutes : run.put_back_mah) && (
        <button
          type="button"
          className="action mr-3"
          onClick={() => void mend(minutes ? { minutes: q.meant } : { put_back_mah: q.meant })}
        >
          It was {minutes ? worded("minutes", q.meant, p) : worded("charge", q.meant, p)}
        </button>
      )}
      <button type="button" className="action" onClick={() => void mend({ sure: true })}>
        It is so
      </button>
    </p>
  );
}
