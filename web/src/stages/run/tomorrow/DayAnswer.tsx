import { useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "@tanstack/react-router";
import { Fragment } from "react";
import type { DayAhead, DayAheadAsk } from "@/api/types";
import { perform } from "@/app/act";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { localMinute, timeOf } from "@/format/time";
import { Folded } from "@/parts/Folded";
import { Packing } from "@/stages/run/tomorrow/Packing";
import { benchAsItWas, layOut } from "@/stages/run/tomorrow/queries";

type Props = { day: DayAhead; asked: DayAheadAsk; kept?: boolean };

const HOW = { full: "full", before: "charge before", there: "charged there" } as const;

/** What the day takes: packs under runs, what to charge before and there, what is missing and to pack. */
export function DayAnswer({ day, asked, kept = false }: Props) {
  const p = usePreferences();
  const now = localMinute();
  return (
    <div className="mt-3 text-plain">
      <p className="text-lead font-semibold leading-5" aria-live="polite">
        {day.headline}
        {day.lands_at && ` Done by ${timeOf(day.lands_at, p, day.start)}.`}
      </p>
      {day.ways_out.length > 0 && (
        <>
          <p className="mt-1 font-semibold">What would do:</p>
          <ul className="list-inside list-disc">
            {day.ways_out.map((w) => (
              <li key={w}>{w}</li>
            ))}
          </ul>
        </>
      )}
      {day.models.map((m) => (
        <div key={m.model} className="mt-2">
          <h3 className="font-semibold">
            {m.name}{" "}
            <span className="font-normal text-ink-soft">
              {m.flown > 0 && `${m.flown} of ${m.wanted} done`}
              {m.flown > 0 && m.missing > 0 && ", "}
              {m.missing > 0 && <strong>{m.missing} missing</strong>}
            </span>
          </h3>
          {m.why && <p className="text-alert">{m.why}</p>}
          <ol className="flex flex-wrap gap-1.5">
            {day.flights
              .filter((f) => f.model === m.model)
              .map((f) => (
                <li key={f.order}>
                  <Link
                    to="/run/$model"
                    params={{ model: f.model }}
                    search={{ pack: f.tag }}
                    className="inline-block border border-rule-strong px-2 py-1 hover:border-ink-soft"
                  >
                    <span className="number font-semibold">{f.tag}</span>{" "}
                    <span className="text-small text-ink-soft">
                      {HOW[f.how]}
                      {f.care && ", with care"}
                      <span className="sr-only">, in {m.name}</span>
                    </span>
                  </Link>
                </li>
              ))}
          </ol>
        </div>
      ))}
      {day.before.length > 0 && <Before day={day} asked={asked} now={now} />}
      {day.not_filled.length > 0 && (
        <ul className="mt-2">
          {day.not_filled.map((x) => (
            <li key={x.tag} className="text-alert">
              <span className="number font-semibold">{x.tag}</span> is not full by then: {x.why}
            </li>
          ))}
        </ul>
      )}
      {day.left_out.length > 0 && (
        <ul className="mt-2">
          {day.left_out.map((x) => (
            <li key={x.tag}>
              <span className="number font-semibold">{x.tag}</span> is not counted on: {x.why}
            </li>
          ))}
        </ul>
      )}
      {day.there.length > 0 && <There day={day} />}
      {day.flights.length > 0 && (
        <>
          <Folded name="Run by run" className="mt-2" printed>
            <table className="mt-1 w-full max-w-md text-left">
              <thead>
                <tr className="text-small text-ink-faint">
                  <th scope="col">from</th>
                  <th scope="col">pack</th>
                  <th scope="col">model</th>
                  <th scope="col">at most</th>
                </tr>
              </thead>
              <tbody>
                {day.flights.map((f) => (
                  <tr key={f.order}>
                    <td className="number">{timeOf(f.start_at, p, day.start)}</td>
                    <td className="number">{f.tag}</td>
                    <td>{day.models.find((m) => m.model === f.model)?.name}</td>
                    <td className="number">{Math.round(f.minutes)} min</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Folded>
          <Packing day={day} kept={kept} />
        </>
      )}
    </div>
  );
}

/** What is charged before, each pack by itself; one press lays it out. */
function Before({ day, asked, now }: { day: DayAhead; asked: DayAheadAsk; now: string }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { model } = useParams({ from: "/run/$model" });
  const p = usePreferences();
  const unread = day.before.filter((c) => c.unread).map((c) => c.tag);
  const lay = async () => {
    const done = await perform(queries, {
      act: () => layOut(asked),
      touches: ["bench"],
      fails: "They could not be laid out.",
      says: () => "They lie on the bench, which is to be ready when the day begins.",
      undo: (were) => ({
        act: () => benchAsItWas(were),
        touches: ["bench"],
        fails: "The bench could not be put back.",
        says: () => "The bench is as it was.",
      }),
    });
    if (!done) return;
    queries.removeQueries({ queryKey: ["bench"] });
    await navigate({ to: "/charge/$model", params: { model } });
  };
  return (
    <>
      <h3 className="mt-3 font-semibold">Charge before</h3>
      <table className="w-full max-w-md text-left">
        <thead className="sr-only">
          <tr>
            <th scope="col">pack</th>
            <th scope="col">charger</th>
            <th scope="col">from</th>
            <th scope="col">to</th>
          </tr>
        </thead>
        <tbody>
          {day.before.map((c) => (
            <tr key={c.tag}>
              <td className="number font-semibold">{c.tag}</td>
              <td>
                {c.charger}
                {c.current_a !== null && `, ${worded("amps_set", c.current_a, p)}`}
              </td>
              <td className="number">{timeOf(c.start_at, p, now)}</td>
              <td className="number">to {timeOf(c.end_at, p, c.start_at)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="text-small text-ink-soft">
        Each by itself, as it was read or noted; on a board together it goes quicker.
        {unread.length > 0 && ` ${unread.join(", ")}: nobody read it, so it is taken as spent.`}
      </p>
      <button type="button" className="control print-hidden mt-1" onClick={() => void lay()}>
        Lay them out on the bench
      </button>
    </>
  );
}

function There({ day }: { day: DayAhead }) {
  const p = usePreferences();
  return (
    <>
      <h3 className="mt-3 font-semibold">Charge there</h3>
      <ul>
        {day.there.map((c) => (
          <li key={`${c.tag} ${c.start_at}`}>
            <span className="number font-semibold">{c.tag}</span> {c.charger},{" "}
            <span className="number">
              {timeOf(c.start_at, p, day.start)} to {timeOf(c.end_at, p, day.start)}
            </span>
          </li>
        ))}
      </ul>
      {day.supplies.map((s) => (
        <Fragment key={s.name}>
          {s.used_wh > 0 && (
            <p className="text-small text-ink-soft">
              {s.name}: {worded("energy", s.used_wh, p)}
              {s.left_wh !== null &&
                ` of ${worded("energy", s.left_wh, p)}${s.told ? " that are left" : " if it is full"}`}
              .
            </p>
          )}
        </Fragment>
      ))}
    </>
  );
}
