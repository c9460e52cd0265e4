import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Suspense, useCallback, useMemo, useState } from "react";
import type { ChargeLine } from "@/api/types";
import { useAct } from "@/app/act";
import { PULL_PLUG } from "@/app/alarms";
import { useKeys } from "@/app/keys";
import { PulledButton } from "@/app/PulledButton";
import { CellChart } from "@/charts/CellChart";
import { usePreferences } from "@/format/preferences";
import { bare, worded } from "@/format/quantity";
import { clock } from "@/format/time";
import { lazyPart } from "@/parts/lazyPart";
import { JudgedAgo } from "@/stages/charge/JudgedAgo";
import { PortStacks } from "@/stages/charge/PortStacks";
import {
  chargeQuery,
  charges,
  chargesQuery,
  glanceQuery,
  look,
  putFault,
  stopCharge,
} from "@/stages/charge/queries";

const ChargingCells = lazyPart(() => import("@/drawings/ChargingCells"));

/** What charges now. Unattended charging is never offered: each charge says when the next look is due. */
export function WatchPart() {
  const { data: lines = [] } = useQuery(chargesQuery);
  const running = lines.filter(charges);
  const stop = useStop();
  const stopAll = useCallback(() => {
    for (const c of running) void stop(c.id);
  }, [running, stop]);
  const keys = useMemo(() => ({ s: stopAll }), [stopAll]);
  useKeys(keys);
  if (running.length === 0) return null;
  return (
    <section aria-label="Watch" className="border-b bg-sheet px-4 py-4 md:px-6">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 className="heading">Charging now</h2>
        {running.length > 1 ? (
          <button type="button" className="stop-button" onClick={stopAll}>
            {running.length === 2 ? "Stop both" : `Stop all ${running.length}`}{" "}
            <kbd className="number max-md:hidden">S</kbd>
          </button>
        ) : (
          <span className="text-small text-ink-faint max-md:hidden">
            <kbd className="number">S</kbd> stops it
          </span>
        )}
      </div>
      {running.length === 1 && running[0] ? (
        <Watched line={running[0]} onStop={stop} />
      ) : (
        <Several running={running} onStop={stop} />
      )}
    </section>
  );
}

type SeveralProps = { running: ChargeLine[]; onStop: (id: number) => Promise<void> };

/** All of them small, one of them large: the pressed one, else the worst. */
function Several({ running, onStop }: SeveralProps) {
  const { data: found, error, dataUpdatedAt } = useQuery(glanceQuery);
  const [pressed, press] = useState<number | null>(null);
  if (!found)
    return (
      <p className={error ? "text-alert" : "text-ink-faint"}>{error?.message ?? "Fetching the ports…"}</p>
    );
  const shown = running.find((c) => c.id === pressed) ?? running.find((c) => c.id === found[0]?.id);
  return (
    <>
      <PortStacks charges={found} at={dataUpdatedAt} shown={shown?.id ?? -1} onShow={press} />
      {shown && <Watched key={shown.id} line={shown} onStop={onStop} />}
    </>
  );
}

function useStop() {
  const queries = useQueryClient();
  const act = useAct();
  return useCallback(
    async (id: number) => {
      await act({
        act: async () => {
          const charge = await stopCharge(id);
          queries.setQueryData(chargeQuery(id, true).queryKey, charge);
          return charge;
        },
        touches: ["charges", "life"],
        fails: "It could not be stopped: go to the charger.",
        says: (charge) => charge.stop_said || "Stopped.",
      });
    },
    [queries, act],
  );
}

type WatchedProps = { line: ChargeLine; onStop: (id: number) => Promise<void> };

function Watched({ line, onStop }: WatchedProps) {
  const queries = useQueryClient();
  const { data, error, dataUpdatedAt } = useQuery(chargeQuery(line.id, true));
  const p = usePreferences();
  // that it does not stop is said beside the button that ends it
  const alarms = data?.alarms.filter((a) => !a.over && a.kind !== PULL_PLUG) ?? [];
  const act = useAct();
  const looked = () =>
    act({
      act: async () => queries.setQueryData(chargeQuery(line.id, true).queryKey, await look(line.id)),
      touches: [],
      fails: "It could not be noted.",
    });
  const last = data ? data.trace.minutes.length - 1 : -1;
  const due = data ? data.look_due_s - data.time_s : 0;
  return (
    <article aria-label={`Charging ${line.label}`} className="mt-3">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <h3 className="text-lead font-semibold">
          {line.label}{" "}
          <span className="text-plain font-normal text-ink-soft">
            on {line.charger_name}, port {line.port}
          </span>
        </h3>
        {data && (
          <span className="text-plain text-ink-faint">
            {data.simulated && data.speed > 1 && `simulated, ${bare("count", data.speed)} times as fast`}
          </span>
        )}
      </div>
      {error && <p className="text-alert">{error.message}</p>}
      {alarms.map((a) => (
        <p
          key={a.id}
          role="alert"
          className="mt-1.5 border-l-4 border-alert bg-ground px-2 py-1 text-plain font-semibold"
        >
          {a.sentence}
        </p>
      ))}
      {data && (
        <div className="mt-2 grid gap-x-6 gap-y-3 md:grid-cols-[minmax(0,1fr)_17rem]">
          <div className="min-w-0 space-y-3">
            {last >= 0 ? (
              <CellChart
                name={`Charging ${line.label}`}
                minutes={data.trace.minutes}
                cells={data.trace.cell_v}
                full={data.full_cell_v}
                height={230}
                expected={
                  data.expected.cell_v[0]
                    ? { minutes: data.expected.minutes, volts: data.expected.cell_v[0] }
                    : undefined
                }
              />
            ) : (
              <p className="text-ink-faint">Waiting for the first sample…</p>
            )}
            <Suspense fallback={<div className="min-h-36" />}>
              <ChargingCells charge={data} />
            </Suspense>
          </div>
          <div>
            <dl className="grid grid-cols-2 gap-x-4 gap-y-2">
              <Fact
                name="in so far"
                value={last < 0 ? "–" : worded("charge", data.trace.mah[last] ?? 0, p)}
              />
              <Fact
                name="now"
                value={last < 0 ? "–" : worded("amps_set", round(data.trace.current_a[last] ?? 0), p)}
              />
              <Fact
                name={`of about ${Math.round(Number(data.settings.minutes))} min`}
                value={worded("whole_minutes", data.time_s / 60)}
              />
              <Fact
                name="the pack"
                value={
                  last < 0 || data.trace.temperature_c[last] == null
                    ? "–"
                    : worded("temperature", data.trace.temperature_c[last], p)
                }
              />
            </dl>
            {data.state === "stopping" ? (
              <>
                <p role="status" className="mt-3 mb-1.5 text-plain font-semibold text-alert">
                  {data.stop_said}
                </p>
                {data.stop_outcome !== "asked" && <PulledButton charge={line.id} label={line.label} />}
              </>
            ) : (
              <>
                <p className={`mt-3 text-plain ${due <= 0 ? "font-semibold text-alert" : ""}`}>
                  {due > 0 ? `Next look in ${minutesSeconds(due)}` : "Look now"}
                </p>
                <div className="mt-1.5 flex flex-wrap gap-3">
                  <button type="button" className="primary min-h-9" onClick={() => void looked()}>
                    I looked: cool and flat
                  </button>
                  <button type="button" className="stop-button" onClick={() => void onStop(line.id)}>
                    Stop
                  </button>
                </div>
              </>
            )}
            <JudgedAgo seconds={data.judged_ago_s ?? 0} within={data.judged_within_s} since={dataUpdatedAt} />
            {data.simulated && <Faults id={line.id} cells={data.trace.cell_v.length} />}
          </div>
        </div>
      )}
      <p className="mt-1 text-small text-ink-faint">
        Thin lines: the cells as measured. Broad pale line: what was expected.
      </p>
    </article>
  );
}

function Fact({ name, value }: { name: string; value: string }) {
  return (
    <div className="flex flex-col-reverse">
      <dt className="text-small text-ink-faint">{name}</dt>
      <dd className="number text-lead font-semibold">{value}</dd>
    </div>
  );
}

const FAULTS = [
  ["weak_cell", "a weak cell"],
  ["not_following", "a cell that does not follow"],
  ["warm", "a pack that warms"],
  ["supply_sag", "a sagging supply"],
  ["link_lost", "a lost link"],
  ["refuses_stop", "a charger that does not stop"],
  ["over_current", "a charger that does what it likes"],
] as const;

/** For the simulated charger only: put a fault in, to see what its alarm is like. */
function Faults({ id, cells }: { id: number; cells: number }) {
  const act = useAct();
  const put = (fault: string) =>
    act({
      act: () => putFault(id, fault, Math.max(0, cells - 1)),
      touches: [],
      fails: "It could not be put in.",
      says: () => "The fault is in. Watch.",
    });
  return (
    <label className="mt-3 flex items-baseline gap-2 text-small text-ink-faint">
      Try
      <select className="field" value="" onChange={(e) => e.target.value && void put(e.target.value)}>
        <option value="">a fault…</option>
        {FAULTS.map(([key, name]) => (
          <option key={key} value={key}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}

function minutesSeconds(seconds: number): string {
  return `${clock(Math.max(0, Math.round(seconds)))} min`;
}

function round(amps: number): number {
  return Math.round(amps * 10) / 10;
}
