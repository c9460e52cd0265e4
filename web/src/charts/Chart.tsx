import { type ReactNode, type Ref, useId } from "react";
import { Drawing } from "@/charts/Drawing";
import { pointsOf } from "@/charts/scale";
import { Folded } from "@/parts/Folded";

export type ChartTable = { caption: string; head: string[]; rows: string[][] };

type Props = {
  box: Ref<HTMLDivElement>;
  width: number;
  height: number;
  /** What is drawn, and in which unit. */
  title: string;
  /** The same in a sentence, with its figures. */
  words: string;
  tables?: ChartTable[];
  children: ReactNode;
};

/**
 * The frame of every chart: what it shows, above it; in words for who does not see it; and its figures as
 * tables.
 */
export function Chart({ box, width, height, title, words, tables = [], children }: Props) {
  const id = useId();
  return (
    <div ref={box}>
      <Drawing width={width} height={height} role="img" aria-labelledby={id}>
        <title id={id}>{words}</title>
        <text x={0} y={10}>
          {title}
        </text>
        {children}
      </Drawing>
      {tables.length > 0 && (
        <Folded name="As a table" className="no-print text-small text-ink-faint">
          {tables.map((table) => (
            <Figures key={table.caption} table={table} />
          ))}
        </Folded>
      )}
    </div>
  );
}

function Figures({ table }: { table: ChartTable }) {
  return (
    <table className="mt-1 w-full text-right [&_:is(td,th):first-child]:text-left">
      <caption className="text-left">{table.caption}</caption>
      <thead>
        <tr>
          {table.head.map((name) => (
            <th key={name} scope="col">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody className="number">
        {[...table.rows.entries()].map(([i, row]) => (
          <tr key={i}>
            {table.head.map((name, k) => (
              <td key={name}>{row[k]}</td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

type Scale = (v: number) => number;

/** A line through points, in px. */
export function Line({
  xs,
  ys,
  x,
  y,
  width = 1.2,
  stroke = "var(--ink)",
  dash,
}: {
  xs: number[];
  ys: number[];
  x: Scale;
  y: Scale;
  width?: number;
  stroke?: string;
  dash?: string | undefined;
}) {
  const points = pointsOf(ys.map((v, i) => [x(xs[i] ?? 0), y(v)]));
  return <polyline points={points} fill="none" stroke={stroke} strokeWidth={width} strokeDasharray={dash} />;
}

/** A height that counts, across the chart, with its name on it. */
export function Level({
  at,
  left,
  right,
  stroke,
  name,
}: {
  at: number;
  left: number;
  right: number;
  stroke: string;
  name: string;
}) {
  return (
    <>
      <line x1={left} x2={right} y1={at} y2={at} stroke={stroke} strokeDasharray="3 2" />
      <text x={left + 4} y={at - 4}>
        {name}
      </text>
    </>
  );
}

/** So many of a list's places, evenly, the first and the last among them. */
export function evenly(length: number, many: number): number[] {
  const last = length - 1;
  if (last < 0) return [];
  return [...new Set(Array.from({ length: many }, (_, k) => Math.round((k * last) / (many - 1))))];
}
