import type { LogFound as Found, Job } from "@/api/types";
import { axisScale, pointsOf, tickText } from "@/charts/scale";
import { usePreferences } from "@/format/preferences";
import { bare, rounded, worded } from "@/format/quantity";

type Props = { found: Found; delimiter: string; onUse: () => void };

/** What a log tells: the run drawn, its figures, and what was done to its samples. */
export function LogFound({ found: log, delimiter, onUse }: Props) {
  const p = usePreferences();
  const rows: [string, string][] = [
    ["Rows", `${log.rows}${log.skipped ? `, ${log.skipped} left out` : ""}`],
    ["Written with", `${delimiter}s${log.decimal_comma ? ", decimal commas" : ""}`],
    ["Length", `${worded("minutes", log.duration_s / 60)}, ${worded("charge", log.used_mah, p)} used`],
    ["Average, RMS", `${worded("current", log.average_a, p)}, ${worded("current", log.rms_a, p)}`],
    [
      "Peak",
      log.peak_every_s
        ? `${worded("current", log.peak_a, p)}, every ${worded("whole_seconds", log.peak_every_s)}, ` +
          `at most ${worded("whole_seconds", log.longest_peak_s)} long`
        : `${worded("current", log.peak_a, p)}, no distinct peaks`,
    ],
    ["Mean volts", worded("voltage", log.mean_voltage_v, p)],
    ["Differs from part to part", `± ${Math.round(log.spread * 100)} %`],
  ];
  return (
    <div className="mt-4">
      <LogChart log={log} />
      <dl className="mt-2 grid grid-cols-[auto_1fr] gap-x-4 gap-y-0.5 text-plain">
        {rows.map(([term, value]) => (
          <div key={term} className="contents">
            <dt className="label">{term}</dt>
            <dd className="number text-small">{value}</dd>
          </div>
        ))}
      </dl>
      {log.notes.map((words) => (
        <p key={words} className="mt-1.5 border-l-4 border-rule-strong pl-2 text-small">
          {words}
        </p>
      ))}
      <button type="button" className="primary mt-4" onClick={onUse}>
        Use this draw
      </button>
    </div>
  );
}

/** The draw of a job, as a log tells it. */
export function drawOf(log: Found, name: string): Partial<Job["draw"]> {
  const peak = log.phases[1];
  const every = log.phases.reduce((sum, phase) => sum + phase.duration_s, 0);
  return {
    source: "log",
    source_note: name.slice(0, 120),
    average_a: rounded(log.average_a, 4),
    peak_a: rounded(log.peak_a, 4),
    peak_s: rounded(peak?.duration_s ?? 0, 3),
    peak_every_s: rounded(every, 3),
    reference_voltage_v: rounded(log.mean_voltage_v, 4),
    spread: rounded(log.spread, 2),
    phases: log.phases,
  };
}

const WIDTH = 680;
const HEIGHT = 130;

function LogChart({ log }: { log: Found }) {
  const high = Math.max(...log.preview_a, 1) * 1.05;
  const x = axisScale([0, log.preview_min.at(-1) ?? 1], [34, WIDTH - 8]);
  const y = axisScale([0, high], [HEIGHT - 22, 14]);
  const points = (values: number[]) =>
    pointsOf(values.map((v, i) => [x.scale(log.preview_min[i] ?? 0), y.scale(v)]));
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="block w-full" role="img">
      <title>{`Amps over ${bare("minutes", log.duration_s / 60)} minutes, with the levels found`}</title>
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
