import { useId } from "react";
import { XAxis, YAxis } from "@/charts/Axes";
import { endLabels } from "@/charts/endLabels";
import { axisScale } from "@/charts/scale";
import { useWidth } from "@/charts/useWidth";

const PAD = { left: 36, right: 50, top: 18, bottom: 22 };
const DASHES = ["", "6 2", "2 2", "8 2 2 2", "1 3", "10 3"];

type Props = {
  name: string;
  minutes: number[];
  cells: number[][];
  full: number;
  height: number;
  /** What was expected: the mean cell over the whole charge. */
  expected?: { minutes: number[]; volts: number[] } | undefined;
};

/** Volts of each cell against minutes, with the full volts as a line; each line ends with its cell's number. */
export function CellChart({ name, minutes, cells, full, height, expected }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>(300);
  const title = useId();
  const all = [...cells.flat(), ...(expected?.volts ?? []), full];
  const last = Math.max(minutes.at(-1) ?? 0, expected?.minutes.at(-1) ?? 0, 1);
  const low = Math.min(...all);
  const high = Math.max(...all);
  const room = Math.max((high - low) * 0.06, 0.01);
  const x = axisScale([0, last], [PAD.left, width - PAD.right], 70);
  const y = axisScale([low - room, high + room], [height - PAD.bottom, PAD.top], 34);
  const line = (xs: number[], vs: number[]) =>
    vs.map((v, i) => `${x.scale(xs[i] ?? 0).toFixed(1)},${y.scale(v).toFixed(1)}`).join(" ");
  return (
    <div ref={ref}>
      <svg width={width} height={height} role="img" aria-labelledby={title} className="block">
        <title id={title}>{words(name, cells, full)}</title>
        <YAxis axis={y} left={PAD.left} right={width - PAD.right} />
        <XAxis axis={x} y={height - 6} />
        <text x={0} y={10}>
          volts of each cell, by minute
        </text>
        <line
          x1={PAD.left}
          x2={width - PAD.right}
          y1={y.scale(full)}
          y2={y.scale(full)}
          stroke="var(--heat-4)"
          strokeDasharray="3 2"
        />
        <text x={PAD.left + 4} y={y.scale(full) - 4}>
          full {full.toFixed(2)} V
        </text>
        {expected && (
          <polyline
            points={line(expected.minutes, expected.volts)}
            fill="none"
            stroke="var(--heat-1)"
            strokeWidth={3}
          />
        )}
        {cells.map((vs, k) => (
          <g key={DASHES[k] ?? k}>
            <polyline
              points={line(minutes, vs)}
              fill="none"
              stroke="var(--ink)"
              strokeWidth={1.2}
              strokeDasharray={DASHES[k % DASHES.length]}
            />
          </g>
        ))}
        {endLabels(cells.map((vs, k) => ({ k: k + 1, at: y.scale(vs.at(-1) ?? 0) }))).map(({ text, at }) => (
          <text key={text} className="tick" x={x.scale(minutes.at(-1) ?? 0) + 4} y={at + 3}>
            {text}
          </text>
        ))}
      </svg>
      <CellTable name={name} minutes={minutes} cells={cells} />
    </div>
  );
}

function words(name: string, cells: number[][], full: number): string {
  const now = cells.map((vs, k) => `cell ${k + 1} at ${vs.at(-1)?.toFixed(3) ?? "?"} V`).join(", ");
  return `${name}: ${now}. Full is ${full.toFixed(2)} V.`;
}

function CellTable({ name, minutes, cells }: { name: string; minutes: number[]; cells: number[][] }) {
  const last = minutes.length - 1;
  if (last < 0) return null;
  const rows = [...new Set(Array.from({ length: 9 }, (_, k) => Math.round((k * last) / 8)))];
  return (
    <details className="no-print text-xs text-ink-faint">
      <summary className="cursor-pointer">As a table</summary>
      <table className="mt-1 w-full text-right">
        <caption className="text-left">{name}, volts</caption>
        <thead>
          <tr>
            <th scope="col">min</th>
            {cells.map((vs, k) => (
              <th key={DASHES[k] ?? vs[0]} scope="col">
                cell {k + 1}
              </th>
            ))}
          </tr>
        </thead>
        <tbody className="number">
          {rows.map((i) => (
            <tr key={i}>
              <td>{minutes[i]?.toFixed(1)}</td>
              {cells.map((vs, k) => (
                <td key={DASHES[k] ?? vs[0]}>{vs[i]?.toFixed(3)}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}
