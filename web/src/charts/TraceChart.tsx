import type { Trace } from "@/api/types";
import { XAxis, YAxis } from "@/charts/Axes";
import { Chart, type ChartTable, evenly, Level, Line } from "@/charts/Chart";
import { axisScale } from "@/charts/scale";
import { useWidth } from "@/charts/useWidth";
import { type Preferences, usePreferences } from "@/format/preferences";
import { bare, shown, unitOf, worded } from "@/format/quantity";

export type TraceLine = { name: string; trace: Trace; dash?: string };

const PAD = { left: 34, right: 10, top: 20, bottom: 24 };

type Props = { lines: TraceLine[]; height: number; marks?: boolean };

/** Volts under load against minutes; with the alarm's level and the landing where one pack is shown. */
export function TraceChart({ lines, height, marks = true }: Props) {
  const p = usePreferences();
  const [box, width] = useWidth<HTMLDivElement>(280);
  const all = lines.flatMap((l) => l.trace.voltage_v);
  const first = lines[0]?.trace;
  if (!first || all.length === 0)
    return <p className="py-4 text-ink-faint">The run ends before it begins: there is no trace.</p>;
  const lastMinute = Math.max(...lines.map((l) => l.trace.minutes.at(-1) ?? 0), 0.1);
  const low = Math.min(...all, marks ? first.alarm_v : Number.POSITIVE_INFINITY);
  const high = Math.max(...all);
  const room = (high - low || 1) * 0.06;
  // what lasts for hours is read in hours
  const per = lastMinute >= 360 ? 60 : 1;
  const xAxis = axisScale([0, lastMinute / per], [PAD.left, width - PAD.right]);
  const x = { scale: (minutes: number) => xAxis.scale(minutes / per) };
  const y = axisScale([low - room, high + room], [height - PAD.bottom, PAD.top], 30);
  const landX = first.landing_min === null ? undefined : x.scale(first.landing_min);
  return (
    <Chart
      box={box}
      width={width}
      height={height}
      title={`volts under load, by ${per === 60 ? "hour" : "minute"}`}
      words={sentence(lines)}
      tables={lines.map((line) => tableOf(line, p))}
    >
      <YAxis axis={y} left={PAD.left} right={width - PAD.right} />
      <XAxis axis={xAxis} y={height - 8} />
      {lines.map(({ name, trace, dash }) => (
        <Line key={name} xs={trace.minutes} ys={trace.voltage_v} x={x.scale} y={y.scale} dash={dash} />
      ))}
      {marks && (
        <Level
          at={y.scale(first.alarm_v)}
          left={PAD.left}
          right={width - PAD.right}
          stroke="var(--heat-3)"
          name={`alarm ${worded("voltage", first.alarm_v)}`}
        />
      )}
      {marks && landX !== undefined && (
        <>
          <line x1={landX} x2={landX} y1={PAD.top - 4} y2={height - PAD.bottom} stroke="var(--fjord)" />
          <text x={landX - 4} y={PAD.top + 4} textAnchor="end">
            land {worded("minutes", first.landing_min ?? 0)}
          </text>
        </>
      )}
    </Chart>
  );
}

function sentence(lines: TraceLine[]): string {
  return lines
    .map(({ name, trace }) => {
      const start = bare("voltage", trace.voltage_v[0]);
      const end = bare("voltage", trace.voltage_v.at(-1));
      const land =
        trace.landing_min === null
          ? "never reaches its landing point"
          : `lands at ${worded("minutes", trace.landing_min)}`;
      return `${name}: from ${start} V to ${end} V under load, ${land}.`;
    })
    .join(" ");
}

function tableOf({ name, trace }: TraceLine, p: Preferences): ChartTable {
  return {
    caption: name,
    head: ["min", "V", "A", `cells, ${unitOf("temperature", p)}`],
    rows: evenly(trace.minutes.length, 11).map((i) => [
      bare("minutes", trace.minutes[i]),
      bare("cell_voltage", trace.voltage_v[i]),
      bare("current", trace.current_a[i]),
      shown("temperature", trace.temperature_c[i] ?? 0, p).text,
    ]),
  };
}
