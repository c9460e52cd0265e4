import { useState } from "react";
import type { Job, Log } from "@/api/types";
import { axisScale, tickText } from "@/charts/scale";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { readLog } from "@/stages/size/queries";
import { Sheet } from "@/ui/Sheet";

type Props = {
  open: boolean;
  motion: Job["motion"];
  onClose: () => void;
  onUse: (draw: Partial<Job["draw"]>) => void;
};
type State =
  | { at: "empty" }
  | { at: "reading"; name: string }
  | { at: "failed"; name: string; why: string }
  | { at: "read"; name: string; log: Log };

/** A log is dropped or chosen, read, shown with what was found in it, and only then used. */
export function LogSheet({ open, motion, onClose, onUse }: Props) {
  const [state, setState] = useState<State>({ at: "empty" });
  const [over, setOver] = useState(false);
  const take = async (file: File | undefined) => {
    if (!file) return;
    setState({ at: "reading", name: file.name });
    try {
      setState({ at: "read", name: file.name, log: await readLog(file, motion) });
    } catch (problem) {
      setState({
        at: "failed",
        name: file.name,
        why: problem instanceof Error ? problem.message : "It cannot be read.",
      });
    }
  };
  return (
    <Sheet open={open} onClose={onClose} title="Read a watt-meter log" wide>
      <div className="px-5 py-4">
        <label
          className={`block cursor-pointer border border-dashed border-rule-strong px-4 py-5 text-center focus-within:border-fjord ${over ? "bg-hollow" : ""}`}
          onDragOver={(e) => {
            e.preventDefault();
            setOver(true);
          }}
          onDragLeave={() => setOver(false)}
          onDrop={(e) => {
            e.preventDefault();
            setOver(false);
            void take(e.dataTransfer.files[0]);
          }}
        >
          <span className="font-semibold">Drop a CSV file here, or choose one.</span>
          <span className="block text-xs text-ink-faint">
            Columns for time, volts and amps are recognised, with their units; decimal commas too.
          </span>
          <input
            type="file"
            accept=".csv,.txt,.tsv,.log,text/csv"
            className="mx-auto mt-2 block text-xs"
            aria-label="Watt-meter log file"
            onChange={(e) => void take(e.target.files?.[0])}
          />
        </label>
        <p className="mt-2 text-xs text-ink-faint">
          None at hand?{" "}
          <a className="action" href={`${import.meta.env.BASE_URL}demo/ptarmigan-watt-meter.csv`} download>
            A simulated flight of Ptarmigan
          </a>{" "}
          shows how it looks.
        </p>
        <div aria-live="polite">
          {state.at === "reading" && <p className="mt-4 text-ink-faint">Reading {state.name}…</p>}
          {state.at === "failed" && (
            <p role="alert" className="mt-4 border-l-4 border-alert pl-3">
              <span className="font-semibold">{state.name}:</span> {state.why}
            </p>
          )}
          {state.at === "read" && <Found log={state.log} name={state.name} onUse={onUse} />}
        </div>
      </div>
    </Sheet>
  );
}

function Found({ log, name, onUse }: { log: Log; name: string; onUse: Props["onUse"] }) {
  const p = usePreferences();
  const rows: [string, string][] = [
    ["Rows", `${log.rows}${log.skipped ? `, ${log.skipped} left out` : ""}`],
    ["Columns", log.columns.map((c) => `${c.header} → ${c.quantity}, ${c.unit}`).join("; ")],
    ["Written with", `${log.delimiter}s${log.decimal_comma ? ", decimal commas" : ""}`],
    ["Length", `${(log.duration_s / 60).toFixed(1)} min, ${worded("charge", log.used_mah, p)} used`],
    ["Average, RMS", `${worded("current", log.average_a, p)}, ${worded("current", log.rms_a, p)}`],
    [
      "Peak",
      log.peak_every_s
        ? `${worded("current", log.peak_a, p)}, every ${log.peak_every_s.toFixed(0)} s, at most ${log.longest_peak_s.toFixed(0)} s long`
        : `${worded("current", log.peak_a, p)}, no distinct peaks`,
    ],
    ["Mean volts", worded("voltage", log.mean_voltage_v, p)],
    ["Differs from part to part", `± ${Math.round(log.spread * 100)} %`],
  ];
  return (
    <div className="mt-4">
      <LogChart log={log} />
      <dl className="mt-2 grid grid-cols-[auto_1fr] gap-x-4 gap-y-0.5 text-[13px]">
        {rows.map(([term, value]) => (
          <div key={term} className="contents">
            <dt className="label">{term}</dt>
            <dd className="number text-[12px]">{value}</dd>
          </div>
        ))}
      </dl>
      <button type="button" className="primary mt-4" onClick={() => onUse(drawOf(log, name))}>
        Use this draw
      </button>
    </div>
  );
}

function drawOf(log: Log, name: string): Partial<Job["draw"]> {
  const peak = log.phases[1];
  const every = log.phases.reduce((sum, phase) => sum + phase.duration_s, 0);
  return {
    source: "log",
    source_note: name.slice(0, 120),
    average_a: Number(log.average_a.toPrecision(4)),
    peak_a: Number(log.peak_a.toPrecision(4)),
    peak_s: Number((peak?.duration_s ?? 0).toPrecision(3)),
    peak_every_s: Number(every.toPrecision(3)),
    reference_voltage_v: Number(log.mean_voltage_v.toPrecision(4)),
    spread: Number(log.spread.toPrecision(2)),
    phases: log.phases,
  };
}

const WIDTH = 680;
const HEIGHT = 130;

function LogChart({ log }: { log: Log }) {
  const high = Math.max(...log.preview_a, 1) * 1.05;
  const x = axisScale([0, log.preview_min.at(-1) ?? 1], [34, WIDTH - 8]);
  const y = axisScale([0, high], [HEIGHT - 22, 14]);
  const points = (values: number[]) =>
    values.map((v, i) => `${x.scale(log.preview_min[i] ?? 0).toFixed(1)},${y.scale(v).toFixed(1)}`).join(" ");
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="block w-full" role="img">
      <title>{`Amps over ${(log.duration_s / 60).toFixed(1)} minutes, with the levels found`}</title>
      {y.ticks.map((v) => (
        <g key={v}>
          <line x1={34} x2={WIDTH - 8} y1={y.scale(v)} y2={y.scale(v)} stroke="var(--hollow)" />
          <text className="tick" x={28} y={y.scale(v) + 3} textAnchor="end">
            {tickText(v)}
          </text>
        </g>
      ))}
      {x.ticks.map((v) => (
        <text key={v} className="tick" x={x.scale(v)} y={HEIGHT - 6} textAnchor="middle">
          {tickText(v)}
        </text>
      ))}
      <polyline points={points(log.preview_a)} fill="none" stroke="var(--heat-1)" strokeWidth={1} />
      <polyline points={points(log.level_a)} fill="none" stroke="var(--ink)" strokeWidth={1.2} />
      <text x={0} y={10}>
        amps: measured, and the levels found
      </text>
      <text x={WIDTH - 8} y={HEIGHT - 6} textAnchor="end">
        min
      </text>
    </svg>
  );
}
