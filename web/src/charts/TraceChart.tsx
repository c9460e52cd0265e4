import { useId } from "react";
import type { Trace } from "@/api/types";
import { XAxis, YAxis } from "@/charts/Axes";
import { axisScale } from "@/charts/scale";
import { useWidth } from "@/charts/useWidth";

export type TraceLine = { name: string; trace: Trace; dash?: string };

const PAD = { left: 34, right: 10, top: 20, bottom: 24 };

type Props = { lines: TraceLine[]; height: number; marks?: boolean };

/** Volts under load against minutes; with the alarm's level and the landing where one pack is shown. */
export function TraceChart({ lines, height, marks = true }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>(280);
  const title = useId();
  const all = lines.flatMap((l) => l.trace.voltage_v);
  const first = lines[0]?.trace;
  if (!first || all.length === 0)
    return <p className="py-4 text-ink-faint">The run ends before it begins: there is no trace.</p>;
  const lastMinute = Math.max(...lines.map((l) => l.trace.minutes.at(-1) ?? 0), 0.1);
  const low = Math.min(...all, marks ? first.alarm_v : Number.POSITIVE_INFINITY);
  const high = Math.max(...all);
  const room = (high - low || 1) * 0.06;
  const x = axisScale([0, lastMinute], [PAD.left, width - PAD.right]);
  const y = axisScale([low - room, high + room], [height - PAD.bottom, PAD.top], 30);
  const points = (t: Trace) =>
    t.voltage_v.map((v, i) => `${x.scale(t.minutes[i] ?? 0).toFixed(1)},${y.scale(v).toFixed(1)}`).join(" ");
  return (
    <div ref={ref}>
      <svg width={width} height={height} role="img" aria-labelledby={title} className="block">
        <title id={title}>{sentence(lines)}</title>
        <YAxis axis={y} left={PAD.left} right={width - PAD.right} />
        <XAxis axis={x} y={height - 8} />
        <text x={0} y={10}>
          volts under load, by minute
        </text>
        {lines.map((l) => (
          <polyline
            key={l.name}
            points={points(l.trace)}
            fill="none"
            stroke="var(--ink)"
            strokeWidth={1.2}
            strokeDasharray={l.dash}
          />
        ))}
        {marks && <Marks trace={first} x={x.scale} y={y.scale} width={width} height={height} />}
      </svg>
      <TraceTable lines={lines} />
    </div>
  );
}

type Scale = (v: number) => number;

function Marks({
  trace,
  x,
  y,
  width,
  height,
}: {
  trace: Trace;
  x: Scale;
  y: Scale;
  width: number;
  height: number;
}) {
  const alarmY = y(trace.alarm_v);
  const landX = trace.landing_min === null ? undefined : x(trace.landing_min);
  return (
    <g>
      <line
        x1={PAD.left}
        x2={width - PAD.right}
        y1={alarmY}
        y2={alarmY}
        stroke="var(--heat-3)"
        strokeDasharray="3 2"
      />
      <text x={PAD.left + 4} y={alarmY - 4}>
        alarm {trace.alarm_v.toFixed(1)} V
      </text>
      {landX !== undefined && (
        <>
          <line x1={landX} x2={landX} y1={PAD.top - 4} y2={height - PAD.bottom} stroke="var(--fjord)" />
          <text x={landX - 4} y={PAD.top + 4} textAnchor="end">
            land {trace.landing_min?.toFixed(1)} min
          </text>
        </>
      )}
    </g>
  );
}

function sentence(lines: TraceLine[]): string {
  return lines
    .map(({ name, trace }) => {
      const start = trace.voltage_v[0]?.toFixed(1);
      const end = trace.voltage_v.at(-1)?.toFixed(1);
      const land =
        trace.landing_min === null
          ? "never reaches its landing point"
          : `lands at ${trace.landing_min.toFixed(1)} min`;
      return `${name}: from ${start} V to ${end} V under load, ${land}.`;
    })
    .join(" ");
}

function TraceTable({ lines }: { lines: TraceLine[] }) {
  return (
    <details className="no-print text-xs text-ink-faint">
      <summary className="cursor-pointer">The trace as a table</summary>
      {lines.map(({ name, trace }) => (
        <table key={name} className="mt-1 w-full text-right">
          <caption className="text-left">{name}</caption>
          <thead>
            <tr>
              <th scope="col">min</th>
              <th scope="col">V</th>
              <th scope="col">A</th>
              <th scope="col">cells, °C</th>
            </tr>
          </thead>
          <tbody className="number">
            {tenth(trace).map((i) => (
              <tr key={i}>
                <td>{trace.minutes[i]?.toFixed(1)}</td>
                <td>{trace.voltage_v[i]?.toFixed(2)}</td>
                <td>{trace.current_a[i]?.toFixed(1)}</td>
                <td>{trace.temperature_c[i]?.toFixed(0)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ))}
    </details>
  );
}

function tenth(trace: Trace): number[] {
  const last = trace.minutes.length - 1;
  return [...new Set(Array.from({ length: 11 }, (_, k) => Math.round((k * last) / 10)))];
}
