import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { ChargeLine } from "@/api/types";
import { CellChart } from "@/charts/CellChart";
import { usePreferences } from "@/format/preferences";
import { bare, type Plain, worded } from "@/format/quantity";
import { wholeMinutes } from "@/format/settings";
import { minutesWords, momentWords } from "@/format/time";
import { Sheet } from "@/parts/Sheet";
import { chargeQuery, charges, chargesQuery } from "@/stages/charge/queries";

/** Charges that ended: what went in, how long, how they ended. */
export function LogPart() {
  const { data: lines = [] } = useQuery(chargesQuery);
  const [opened, setOpened] = useState<ChargeLine | undefined>();
  const ended = lines.filter((c) => !charges(c));
  if (ended.length === 0) return null;
  return (
    <section aria-label="Log of charges" className="border-t px-4 py-4 md:px-6">
      <h2 className="heading">Log of charges</h2>
      <ul className="mt-1 divide-y divide-hollow">
        {ended.map((c) => (
          <LogLine key={c.id} charge={c} onOpen={() => setOpened(c)} />
        ))}
      </ul>
      {opened && <LogSheet line={opened} onClose={() => setOpened(undefined)} />}
    </section>
  );
}

const ENDINGS: Record<string, string> = { done: "full", stopped: "stopped", failed: "lost" };

function LogLine({ charge, onOpen }: { charge: ChargeLine; onOpen: () => void }) {
  const p = usePreferences();
  const { mah, minutes } = charge.summary;
  return (
    <li
      className="grid grid-cols-1 gap-x-4 py-1.5 sm:grid-cols-[11rem_9rem_minmax(0,1fr)_auto]
      sm:items-baseline"
    >
      <span>
        <span className="number font-semibold">{charge.label}</span>{" "}
        <span className="text-small text-ink-faint">{momentWords(charge.started, p)}</span>
      </span>
      <span className="number text-plain">
        {typeof mah === "number" ? worded("charge", mah, p) : "–"}
        {typeof minutes === "number" ? `, ${minutesWords(minutes)}` : ""}
      </span>
      <span className={charge.state === "done" ? "text-ink-soft" : "font-medium"}>{endingOf(charge)}</span>
      <button
        type="button"
        className="action justify-self-start text-plain"
        aria-label={`Charge of ${charge.label}, ${momentWords(charge.started, p)}`}
        onClick={onOpen}
      >
        Look at it
      </button>
    </li>
  );
}

function LogSheet({ line, onClose }: { line: ChargeLine; onClose: () => void }) {
  const { data } = useQuery(chargeQuery(line.id, false));
  const p = usePreferences();
  const s = line.summary;
  const list = (v: unknown, kind: Plain) =>
    Array.isArray(v) ? v.map((x) => bare(kind, Number(x))).join("  ") : "not measured";
  return (
    <Sheet open onClose={onClose} title={`${line.label}, ${momentWords(line.started, p)}`} wide>
      <div className="px-5 py-4">
        {data && data.trace.minutes.length > 0 && (
          <CellChart
            name={`Charge of ${line.label}`}
            minutes={data.trace.minutes}
            cells={data.trace.cell_v}
            full={data.full_cell_v}
            height={220}
          />
        )}
        <dl className="mt-3 grid grid-cols-[auto_1fr] gap-x-5 gap-y-1 text-plain">
          <dt className="text-ink-soft">Cells before</dt>
          <dd className="number">{list(s.start_cell_v, "cell_reading")} V</dd>
          <dt className="text-ink-soft">Cells after</dt>
          <dd className="number">{list(s.end_cell_v, "cell_reading")} V</dd>
          <dt className="text-ink-soft">Resistance after a minute</dt>
          <dd className="number">{list(s.cell_mohm, "resistance")} mΩ</dd>
          <dt className="text-ink-soft">Warmest</dt>
          <dd className="number">
            {typeof s.highest_c === "number" ? worded("temperature", s.highest_c, p) : "not measured"}
          </dd>
        </dl>
        {data && data.alarms.length > 0 && (
          <>
            <h3 className="heading mt-4">Alarms</h3>
            <ul className="mt-1 space-y-1">
              {data.alarms.map((a) => (
                <li key={a.id}>
                  <span className="number mr-1 text-plain text-ink-faint">
                    {wholeMinutes(a.time_s / 60)} min
                  </span>
                  {a.sentence}
                </li>
              ))}
            </ul>
          </>
        )}
        {data && (
          <>
            <h3 className="heading mt-4">Plug out</h3>
            <ol className="mt-1 list-inside list-decimal text-plain text-ink-soft">
              {data.unplug.map((x) => (
                <li key={x.id}>{x.sentence}</li>
              ))}
            </ol>
          </>
        )}
      </div>
    </Sheet>
  );
}

/** How it ended, and why; a reason that says so itself needs no word before it. */
function endingOf({ state, ended_why: why }: ChargeLine): string {
  const word = ENDINGS[state] ?? state;
  if (state === "done" || !why) return word;
  return why.toLowerCase().includes(word) ? why : `${word}: ${why}`;
}
