import type { Series } from "@/api/types";
import { YAxis } from "@/charts/Axes";
import { Chart, Level, Line } from "@/charts/Chart";
import { endLabels } from "@/charts/endLabels";
import { axisScale } from "@/charts/scale";
import { useWidth } from "@/charts/useWidth";
import { bare } from "@/format/quantity";

const PAD = { left: 40, right: 66, top: 20, bottom: 22 };
const HEIGHT = 170;
const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

type Props = { title: string; unit: string; series: Series; firstName: string; single?: boolean };

/** Values over the months, a dot a reading and a line a cell, with the value they are compared with. */
export function YearChart({ title, unit, series, firstName, single = false }: Props) {
  const [box, width] = useWidth<HTMLDivElement>(420);
  const all = series.cells.flat();
  if (all.length === 0) return <p className="text-ink-faint">{title}: nothing was measured yet.</p>;
  const times = series.at.map((t) => new Date(t).getTime());
  const values = series.first === null ? all : [...all, series.first];
  const low = Math.min(...values);
  const high = Math.max(...values);
  const room = Math.max((high - low) * 0.1, high * 0.02);
  const x = axisScale([Math.min(...times), Math.max(...times)], [PAD.left, width - PAD.right]).scale;
  const y = axisScale([low - room, high + room], [HEIGHT - PAD.bottom, PAD.top], 34);
  const last = series.cells.map((c, k) => ({ k: k + 1, v: c.at(-1) ?? 0 }));
  return (
    <Chart
      box={box}
      width={width}
      height={HEIGHT}
      title={`${title}, ${unit}`}
      words={words(title, unit, series, firstName, single)}
      tables={[
        {
          caption: `${title}, ${unit}`,
          head: ["day", ...last.map((l) => (single ? unit : `cell ${l.k}`))],
          rows: series.at.map((t, i) => [
            t.slice(0, 10),
            ...series.cells.map((c) => bare("hundredths", c[i])),
          ]),
        },
      ]}
    >
      <YAxis axis={y} left={PAD.left} right={width - PAD.right} />
      {monthsOf(times, width).map((m) => (
        <text key={m.at} className="tick" x={x(m.at)} y={HEIGHT - 6} textAnchor="middle">
          {m.name}
        </text>
      ))}
      {series.first !== null && (
        <Level
          at={y.scale(series.first)}
          left={PAD.left}
          right={width - PAD.right}
          stroke="var(--fjord)"
          name={firstName}
        />
      )}
      {series.cells.map((c, k) => (
        <g key={last[k]?.k} opacity={0.75}>
          <Line xs={times} ys={c} x={x} y={y.scale} width={0.9} />
        </g>
      ))}
      {!single &&
        endLabels(last.map((l) => ({ ...l, at: y.scale(l.v) }))).map((l) => (
          <text key={l.text} className="tick" x={width - PAD.right + 5} y={l.at + 3}>
            {l.text}
          </text>
        ))}
    </Chart>
  );
}

/** The first of a month, every so many months that the names have room. */
function monthsOf(times: number[], width: number): { at: number; name: string }[] {
  const first = new Date(Math.min(...times));
  const last = Math.max(...times);
  const out = [];
  for (let m = 1; m < 60; m += 1) {
    const at = new Date(first.getFullYear(), first.getMonth() + m, 1).getTime();
    if (at > last) break;
    out.push({ at, name: MONTHS[new Date(at).getMonth()] ?? "" });
  }
  const every = Math.max(1, Math.ceil(out.length / (width / 60)));
  return out.filter((_, i) => i % every === 0);
}

function words(title: string, unit: string, series: Series, firstName: string, single: boolean): string {
  const now = series.cells.map(
    (c, k) => `${single ? "now" : `cell ${k + 1}`} ${bare("hundredths", c.at(-1), "?")} ${unit}`,
  );
  const first = series.first === null ? "" : ` ${firstName} ${bare("hundredths", series.first)} ${unit}.`;
  return `${title}: ${now.join(", ")};${first}`;
}
