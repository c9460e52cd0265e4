import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef } from "react";
import { wordsOf } from "@/api/problem";
import type { ChargeLine } from "@/api/types";
import { useKeys } from "@/app/keys";
import { notify } from "@/app/notices";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { clock } from "@/format/time";
import { CellChart } from "@/stages/charge/CellChart";
import { chargeQuery, chargesQuery, look, putFault, stopCharge } from "@/stages/charge/queries";

/** What charges now. Unattended charging is never offered: each charge says when the next look is due. */
export function WatchPart() {
  const { data: charges = [] } = useQuery(chargesQuery);
  const running = charges.filter((c) => c.state === "charging");
  const stop = useStop();
  const keys = useMemo(
    () => ({ s: () => running.length > 0 && void Promise.all(running.map((c) => stop(c.id))) }),
    [running, stop],
  );
  useKeys(keys);
  if (running.length === 0) return null;
  return (
    <section aria-label="Watch" className="border-b bg-sheet px-4 py-4 md:px-6">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 className="heading">Charging now</h2>
        <span className="text-xs text-ink-faint">
          <kbd className="number">S</kbd> stops {running.length > 1 ? `all ${running.length}` : "it"}
        </span>
      </div>
      <div className={`mt-2 grid gap-x-8 gap-y-6 ${running.length > 1 ? "lg:grid-cols-2" : ""}`}>
        {running.map((c) => (
          <Watched key={c.id} line={c} wide={running.length === 1} onStop={() => void stop(c.id)} />
        ))}
      </div>
    </section>
  );
}

function useStop() {
  const queries = useQueryClient();
  return useCallback(
    async (id: number) => {
      try {
        queries.setQueryData(chargeQuery(id, true).queryKey, await stopCharge(id));
        void queries.invalidateQueries({ queryKey: ["charges"] });
        notify("Stopped.");
      } catch (problem) {
        notify(wordsOf(problem, "It could not be stopped: go to the charger."), {
          wrong: true,
        });
      }
    },
    [queries],
  );
}

type WatchedProps = { line: ChargeLine; wide: boolean; onStop: () => void };

function Watched({ line, wide, onStop }: WatchedProps) {
  const queries = useQueryClient();
  const { data, error } = useQuery(chargeQuery(line.id, true));
  const p = usePreferences();
  const alarms = data?.alarms.filter((a) => !a.over) ?? [];
  useAlarmSound(alarms.length > 0);
  const looked = async () => {
    try {
      queries.setQueryData(chargeQuery(line.id, true).queryKey, await look(line.id));
    } catch (problem) {
      notify(wordsOf(problem, "It could not be noted."), { wrong: true });
    }
  };
  const last = data ? data.trace.minutes.length - 1 : -1;
  const due = data ? data.look_due_s - data.time_s : 0;
  return (
    <article aria-label={`Charging ${line.label}`}>
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <h3 className="text-[17px] font-semibold">
          {line.label}{" "}
          <span className="text-[13px] font-normal text-ink-soft">
            on {line.charger_name}, port {line.port}
          </span>
        </h3>
        {data && (
          <span className="text-[13px] text-ink-faint">
            {data.simulated && data.speed > 1 && `simulated, ${data.speed.toFixed(0)} times as fast`}
          </span>
        )}
      </div>
      {error && <p className="text-alert">{error.message}</p>}
      {alarms.map((a) => (
        <p
          key={a.id}
          role="alert"
          className="mt-1.5 border-l-4 border-alert bg-ground px-2 py-1 text-[14px] font-semibold"
        >
          {a.sentence}
        </p>
      ))}
      {data && (
        <div className={`mt-2 grid gap-x-6 gap-y-3 ${wide ? "md:grid-cols-[minmax(0,1fr)_17rem]" : ""}`}>
          {last >= 0 ? (
            <CellChart
              name={`Charging ${line.label}`}
              minutes={data.trace.minutes}
              cells={data.trace.cell_v}
              full={data.full_cell_v}
              height={wide ? 230 : 200}
              expected={
                data.expected.cell_v[0]
                  ? { minutes: data.expected.minutes, volts: data.expected.cell_v[0] }
                  : undefined
              }
            />
          ) : (
            <p className="text-ink-faint">Waiting for the first sample…</p>
          )}
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
                value={`${(data.time_s / 60).toFixed(0)} min`}
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
            <p className={`mt-3 text-[14px] ${due <= 0 ? "font-semibold text-alert" : ""}`}>
              {due > 0 ? `Next look in ${minutesSeconds(due)}` : "Look now"}
            </p>
            <div className="mt-1.5 flex flex-wrap gap-3">
              <button type="button" className="primary min-h-9" onClick={() => void looked()}>
                I looked: cool and flat
              </button>
              <button
                type="button"
                className="min-h-9 rounded-plate border-2 border-alert px-4 font-semibold text-alert"
                onClick={onStop}
              >
                Stop
              </button>
            </div>
            {data.simulated && <Faults id={line.id} cells={data.trace.cell_v.length} />}
          </div>
        </div>
      )}
      <p className="mt-1 text-xs text-ink-faint">
        Thin lines: the cells as measured. Broad pale line: what was expected.
      </p>
    </article>
  );
}

function Fact({ name, value }: { name: string; value: string }) {
  return (
    <div className="flex flex-col-reverse">
      <dt className="text-xs text-ink-faint">{name}</dt>
      <dd className="number text-[17px] font-semibold">{value}</dd>
    </div>
  );
}

const FAULTS = [
  ["weak_cell", "a weak cell"],
  ["not_following", "a cell that does not follow"],
  ["warm", "a pack that warms"],
  ["supply_sag", "a sagging supply"],
  ["link_lost", "a lost link"],
] as const;

/** For the simulated charger only: put a fault in, to see what its alarm is like. */
function Faults({ id, cells }: { id: number; cells: number }) {
  const put = async (fault: string) => {
    try {
      await putFault(id, fault, Math.max(0, cells - 1));
      notify("The fault is in. Watch.");
    } catch (problem) {
      notify(wordsOf(problem, "It could not be put in."), { wrong: true });
    }
  };
  return (
    <label className="mt-3 flex items-baseline gap-2 text-[12.5px] text-ink-faint">
      Try
      <select
        className="cursor-pointer border-b border-rule-strong bg-transparent [&>option]:bg-sheet"
        value=""
        onChange={(e) => e.target.value && void put(e.target.value)}
      >
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

/** A short tone while an alarm stands, repeated; browsers allow it once the page was used. */
function useAlarmSound(on: boolean): void {
  const context = useRef<AudioContext | undefined>(undefined);
  useEffect(() => {
    if (!on || typeof AudioContext === "undefined") return;
    const beep = () => {
      context.current ??= new AudioContext();
      if (context.current.state !== "running") return;
      const tone = context.current.createOscillator();
      const loudness = context.current.createGain();
      loudness.gain.value = 0.08;
      tone.frequency.value = 880;
      tone.connect(loudness).connect(context.current.destination);
      tone.start();
      tone.stop(context.current.currentTime + 0.18);
      navigator.vibrate?.(200);
    };
    beep();
    const timer = window.setInterval(beep, 1500);
    return () => window.clearInterval(timer);
  }, [on]);
}

function minutesSeconds(seconds: number): string {
  return `${clock(Math.max(0, Math.round(seconds)))} min`;
}

function round(amps: number): number {
  return Math.round(amps * 10) / 10;
}
