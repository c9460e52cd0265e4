import { XAxis, YAxis } from "@/charts/Axes";
import { Chart, type ChartTable, evenly, Level, Line } from "@/charts/Chart";
import { endLabels } from "@/charts/endLabels";
import { axisScale } from "@/charts/scale";
import { useWidth } from "@/charts/useWidth";
import { bare, worded } from "@/format/quantity";

const PAD = { left: 36, right: 50, top: 18, bottom: 22 };
const DASHES = ["", "6 2", "2 2", "8 2 2 2", "1 3", "10 3"];

type Props = {
  name: string;
  minutes: number[];
  cells: number[][];
  full: number;
  height: number;
  /** What the whole charge takes up, where only its beginning is drawn. */
  within?: { minutes: number; low: number; high: number };
  /** What was expected: the mean cell over the whole charge. */
  expected?: { minutes: number[]; volts: number[] } | undefined;
};

/**
 * Volts of each cell against minutes, with the full volts as a line; each line ends with its cell's number.
 */
export function CellChart({ name, minutes, cells, full, height, within, expected }: Props) {
  const [box, width] = useWidth<HTMLDivElement>(300);
  const all = [
    ...cells.flat(),
    ...(expected?.volts ?? []),
    ...(within ? [within.low, within.high] : []),
    full,
  ];
  const last = Math.max(minutes.at(-1) ?? 0, expected?.minutes.at(-1) ?? 0, within?.minutes ?? 0, 1);
  const low = Math.min(...all);
  const high = Math.max(...all);
  const room = Math.max((high - low) * 0.06, 0.01);
  const x = axisScale([0, last], [PAD.left, width - PAD.right], 70);
  const y = axisScale([low - room, high + room], [height - PAD.bottom, PAD.top], 34);
  return (
    <Chart
      box={box}
      width={width}
      height={height}
      title="volts of each cell, by minute"
      words={words(name, cells, full)}
      tables={minutes.length > 0 ? [tableOf(name, minutes, cells)] : []}
    >
      <YAxis axis={y} left={PAD.left} right={width - PAD.right} />
      <XAxis axis={x} y={height - 6} />
      <Level
        at={y.scale(full)}
        left={PAD.left}
        right={width - PAD.right}
        stroke="var(--heat-4)"
        name={`full ${worded("cell_voltage", full)}`}
      />
      {expected && (
        <Line
          xs={expected.minutes}
          ys={expected.volts}
          x={x.scale}
          y={y.scale}
          width={3}
          stroke="var(--heat-1)"
        />
      )}
      {cells.map((vs, k) => (
        <Line
          key={DASHES[k] ?? k}
          xs={minutes}
          ys={vs}
          x={x.scale}
          y={y.scale}
          dash={DASHES[k % DASHES.length]}
        />
      ))}
      {endLabels(cells.map((vs, k) => ({ k: k + 1, at: y.scale(vs.at(-1) ?? 0) }))).map(({ text, at }) => (
        <text key={text} className="tick" x={x.scale(minutes.at(-1) ?? 0) + 4} y={at + 3}>
          {text}
        </text>
      ))}
    </Chart>
  );
}

function words(name: string, cells: number[][], full: number): string {
  const now = cells.map((vs, k) => `cell ${k + 1} at ${bare("cell_reading", vs.at(-1), "?")} V`).join(", ");
  return `${name}: ${now}. Full is ${worded("cell_voltage", full)}.`;
}

function tableOf(name: string, minutes: number[], cells: number[][]): ChartTable {
  return {
    caption: `${name}, volts`,
    head: ["min", ...cells.map((_, k) => `cell ${k + 1}`)],
    rows: evenly(minutes.length, 9).map((i) => [
      bare("minutes", minutes[i]),
      ...cells.map((vs) => bare("cell_reading", vs[i])),
    ]),
  };
}
