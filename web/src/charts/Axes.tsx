import { type axisScale, tickText } from "@/charts/scale";

type Axis = ReturnType<typeof axisScale>;

/** Fine lines across a chart at the axis's round values, with the values before them. */
export function YAxis({ axis, left, right }: { axis: Axis; left: number; right: number }) {
  return axis.ticks.map((v) => (
    <g key={v}>
      <line x1={left} x2={right} y1={axis.scale(v)} y2={axis.scale(v)} stroke="var(--hollow)" />
      <text className="tick" x={left - 6} y={axis.scale(v) + 3} textAnchor="end">
        {tickText(v)}
      </text>
    </g>
  ));
}

/** The axis's round values below a chart. */
export function XAxis({ axis, y }: { axis: Axis; y: number }) {
  return axis.ticks.map((v) => (
    <text key={v} className="tick" x={axis.scale(v)} y={y} textAnchor="middle">
      {tickText(v)}
    </text>
  ));
}
