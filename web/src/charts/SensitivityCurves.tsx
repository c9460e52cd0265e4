import type { Detail } from "@/api/types";
import { YAxis } from "@/charts/Axes";
import { Chart, Line } from "@/charts/Chart";
import { axisScale, tickText } from "@/charts/scale";
import { useWidth } from "@/charts/useWidth";
import { usePreferences } from "@/format/preferences";
import { bare, inUnit, unitOf } from "@/format/quantity";

const HEIGHT = 96;
const MOST_MASSES = 5;
const PAD = { left: 30, right: 12, top: 18, bottom: 20 };

type Curve = { id: string; title: string; x: number[]; minutes: number[]; at: number; steps?: boolean };

/** The minutes against mass, cells and air, each with the pack as it is. */
export default function SensitivityCurves({ detail }: { detail: Detail }) {
  const p = usePreferences();
  const s = detail.sensitivity;
  const mass = (g: number) => inUnit("mass", g, p);
  const air = (c: number) => inUnit("temperature", c, p);
  // the sweep goes on to where more pack runs shorter; what is many times the pack's mass is not drawn
  const near = Math.max(3, s.sweep_mass_g.filter((g) => g <= MOST_MASSES * detail.mass_g).length);
  const curves: Curve[] = [
    {
      id: "mass",
      title: `minutes by its mass, ${unitOf("mass", p)}, of the same make`,
      x: s.sweep_mass_g.slice(0, near).map(mass),
      minutes: s.sweep_minutes.slice(0, near),
      at: mass(detail.mass_g),
    },
    {
      id: "air",
      title: `minutes by the air, ${unitOf("temperature", p)}`,
      x: s.sweep_air_c.map(air),
      minutes: s.air_minutes,
      at: air(s.air_c),
    },
    {
      id: "cells",
      title: "minutes by cells in series",
      x: s.sweep_cells,
      minutes: s.cells_minutes,
      at: detail.series,
      steps: true,
    },
  ];
  return (
    <>
      {curves.map((curve) => (
        <CurveChart key={curve.id} curve={curve} minutes={detail.minutes} />
      ))}
    </>
  );
}

function CurveChart({ curve, minutes }: { curve: Curve; minutes: number }) {
  const [box, width] = useWidth<HTMLDivElement>(260);
  const low = Math.min(...curve.minutes, minutes);
  const high = Math.max(...curve.minutes, minutes);
  const room = Math.max(0.1 * (high - low), 0.02 * high, 0.1);
  const first = curve.x[0] ?? 0;
  const last = curve.x.at(-1) ?? 1;
  const x = axisScale([first, last], [PAD.left, width - PAD.right]);
  const y = axisScale([Math.max(0, low - room), high + room], [HEIGHT - PAD.bottom, PAD.top], 18);
  const ticks = curve.steps ? curve.x : x.ticks.filter((v) => v >= first && v <= last);
  const end = (i: number) => `${bare("minutes", curve.minutes.at(i))} at ${tickText(curve.x.at(i) ?? 0)}`;
  const words = `${curve.title}: from ${end(0)} to ${end(-1)}; this pack ${bare("minutes", minutes)}.`;
  return (
    <div className="mt-2">
      <Chart box={box} width={width} height={HEIGHT} title={curve.title} words={words}>
        <YAxis axis={y} left={PAD.left} right={width - PAD.right} />
        {ticks.map((v) => (
          <text key={v} className="tick" x={x.scale(v)} y={HEIGHT - 5} textAnchor="middle">
            {tickText(v)}
          </text>
        ))}
        {curve.steps ? (
          curve.x.map((v, i) => (
            <rect
              key={v}
              x={x.scale(v) - 2.5}
              y={y.scale(curve.minutes[i] ?? 0) - 2.5}
              width={5}
              height={5}
              fill="var(--ink)"
            />
          ))
        ) : (
          <Line xs={curve.x} ys={curve.minutes} x={x.scale} y={y.scale} />
        )}
        <circle
          cx={x.scale(curve.at)}
          cy={y.scale(minutes)}
          r={4}
          fill="none"
          stroke="var(--fjord)"
          strokeWidth={2}
        />
      </Chart>
    </div>
  );
}
