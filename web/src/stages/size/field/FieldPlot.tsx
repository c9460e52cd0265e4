import { memo, useCallback, useId, useMemo, useRef, useState } from "react";
import type { Job, Plan } from "@/api/types";
import type { JobEditing } from "@/app/useJob";
import { Drawing, placeIn } from "@/charts/Drawing";
import { axisScale, pointsOf, tickText } from "@/charts/scale";
import { useWidth } from "@/charts/useWidth";
import { usePreferences } from "@/format/preferences";
import { loadingText, rounded, shown, unitOf, wholeMinutes, worded } from "@/format/quantity";
import { heat } from "@/parts/heat";
import { DragLine } from "@/stages/size/field/DragLine";
import { type Domain, domainOf, glyph, groups, nearest, PLATE_W } from "@/stages/size/field/plot";

const PAD = { left: 40, right: 14, top: 26, bottom: 40 };

type Props = {
  plan: Plan;
  job: Job;
  store: JobEditing;
  pickId: string | undefined;
  pins: string[];
  onPick: (id: string) => void;
  sweep: Sweep | undefined;
};

/** Minutes of the picked pack made bigger or smaller, and the mass past which more of it runs shorter. */
export type Sweep = { mass_g: number[]; minutes: number[]; turning_mass_g: number | null };

/** Every candidate on minutes against grams; the two wants are lines that can be dragged. */
export const FieldPlot = memo(function FieldPlot({ plan, job, store, pickId, pins, onPick, sweep }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>(640);
  const height = Math.min(430, Math.max(280, Math.round(width * 0.58)));
  const [hover, setHover] = useState<number | undefined>();
  const p = usePreferences();
  const title = useId();
  const domain = useSteadyDomain(plan, job);
  const x = axisScale(domain.value.grams, [PAD.left, width - PAD.right]);
  // what serves for hours is read in hours
  const per = domain.value.minutes[1] >= 360 ? 60 : 1;
  const yAxis = axisScale([0, domain.value.minutes[1] / per], [height - PAD.bottom, PAD.top], 55);
  const y = {
    scale: (m: number) => yAxis.scale(m / per),
    invert: (at: number) => yAxis.invert(at) * per,
  };
  const drawn = useMemo(() => {
    const gx = axisScale(domain.value.grams, [PAD.left, width - PAD.right]).scale;
    const gy = axisScale(domain.value.minutes, [height - PAD.bottom, PAD.top], 55).scale;
    return groups(
      plan,
      gx,
      gy,
      (atX, atY) => atX >= PAD.left && atX <= width - PAD.right - PLATE_W / 2 && atY >= PAD.top,
    );
  }, [plan, domain.value, width, height]);
  const at = (event: React.MouseEvent<SVGSVGElement>) => {
    const place = placeIn(event.currentTarget, event);
    return nearest(plan, place.x, place.y, x.scale, y.scale);
  };
  const { minutes, mass_g } = job.wants;
  const right = width - PAD.right;
  const bottom = height - PAD.bottom;
  const least = minutes ?? (job.equipment ? plan.wanted_min : null);
  const wantY = least ? clamp(y.scale(least), PAD.top, bottom) : bottom;
  const wantX = mass_g ? clamp(x.scale(mass_g), PAD.left, right) : right;
  const frontD = pointsOf(
    plan.front
      .map((i): [number, number] => [x.scale(plan.field.mass_g[i] ?? 0), y.scale(plan.field.minutes[i] ?? 0)])
      .filter(([atX, atY]) => atX <= right && atY >= PAD.top),
  );
  return (
    <div ref={ref} className="relative mt-1.5 touch-pan-y select-none">
      <Drawing
        width={width}
        height={height}
        aria-labelledby={title}
        onPointerMove={(e) => setHover(at(e))}
        onPointerLeave={() => setHover(undefined)}
        onClick={(e) => {
          const i = at(e);
          const id = i === undefined ? undefined : plan.field.ids[i];
          if (id) onPick(id);
        }}
        onKeyDown={() => undefined}
      >
        <title id={title}>Candidates by minutes and mass. {plan.headline}</title>
        <defs>
          <pattern id="veil" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width="6" height="6" fill="var(--ground)" opacity=".66" />
            <line x1="0" y1="0" x2="0" y2="6" stroke="var(--rule)" strokeWidth="1" />
          </pattern>
        </defs>
        <Axes x={x} y={yAxis} width={width} height={height} />
        {drawn.map((g) => (
          <path
            key={`${g.heat}${g.look}`}
            d={g.d}
            fill={`var(--heat-${g.heat})`}
            opacity={g.look === "clear" ? 1 : g.look === "made" ? 0.55 : g.look === "thinned" ? 0.7 : 0.4}
            stroke={g.look === "clear" ? "var(--ink)" : "none"}
            strokeWidth={0.45}
          />
        ))}
        <rect
          x={PAD.left}
          y={wantY}
          width={Math.max(right - PAD.left, 0)}
          height={Math.max(bottom - wantY, 0)}
          fill="url(#veil)"
        />
        <rect
          x={wantX}
          y={PAD.top}
          width={Math.max(right - wantX, 0)}
          height={Math.max(wantY - PAD.top, 0)}
          fill="url(#veil)"
        />
        <polyline points={frontD} fill="none" stroke="var(--ink)" strokeDasharray="2 2" />
        {sweep && <SweepLine sweep={sweep} x={x.scale} y={y.scale} right={right} top={PAD.top} />}
        {pins.map((id) => (
          <Ring key={id} plan={plan} id={id} x={x.scale} y={y.scale} dash="3 2" />
        ))}
        {pickId && <Ring plan={plan} id={pickId} x={x.scale} y={y.scale} />}
        {minutes !== null && (
          <DragLine
            direction="up"
            label="Minutes wanted, at least"
            text={`${worded("minutes", minutes, p)} ↕`}
            value={minutes}
            max={domain.value.minutes[1]}
            step={0.5}
            at={wantY}
            from={PAD.left}
            to={right}
            invert={y.invert}
            onDrag={(v, continues) =>
              store.change(
                "minutes wanted",
                withMinutes(() => v),
                { continues },
              )
            }
            onStep={(n, continues) =>
              store.change(
                "minutes wanted",
                withMinutes((now) => now + 0.5 * n),
                { continues },
              )
            }
            onHold={domain.hold}
          />
        )}
        {mass_g !== null && (
          <DragLine
            direction="across"
            label="Mass of the pack, at most"
            text={`${worded("mass", mass_g, p)} ↔`}
            value={mass_g}
            max={domain.value.grams[1]}
            step={massStep(mass_g)}
            at={wantX}
            from={PAD.top}
            to={bottom}
            invert={x.invert}
            onDrag={(v, continues) =>
              store.change(
                "heaviest pack",
                withMass(() => v),
                { continues },
              )
            }
            onStep={(n, continues) =>
              store.change(
                "heaviest pack",
                withMass((now) => now + massStep(now) * n),
                { continues },
              )
            }
            onHold={domain.hold}
          />
        )}
        <text x={right} y={height - 6} textAnchor="end">
          mass of the pack, {unitOf("mass", p)}
        </text>
        <text x={4} y={11}>
          {per === 60 ? "hours" : "minutes"}
        </text>
      </Drawing>
      {hover !== undefined && <Tip plan={plan} row={hover} x={x.scale} y={y.scale} width={width} />}
    </div>
  );
});

/** The plot's limits hold still while a line is dragged: the ground must not move under the hand. */
function useSteadyDomain(plan: Plan, job: Job): { value: Domain; hold: (on: boolean) => void } {
  const [held, setHeld] = useState<Domain | undefined>();
  const fresh = useMemo(() => domainOf(plan, job), [plan, job]);
  const latest = useRef(fresh);
  latest.current = held ?? fresh;
  const hold = useCallback((on: boolean) => setHeld(on ? latest.current : undefined), []);
  return { value: held ?? fresh, hold };
}

type Axis = ReturnType<typeof axisScale>;

function Axes({ x, y, width, height }: { x: Axis; y: Axis; width: number; height: number }) {
  const p = usePreferences();
  return (
    <g>
      {y.ticks.map((v) => (
        <g key={v}>
          <line x1={PAD.left} x2={width - PAD.right} y1={y.scale(v)} y2={y.scale(v)} stroke="var(--hollow)" />
          <text className="tick" x={PAD.left - 8} y={y.scale(v) + 3} textAnchor="end">
            {tickText(v)}
          </text>
        </g>
      ))}
      {x.ticks.map((v) => (
        <text key={v} className="tick" x={x.scale(v)} y={height - PAD.bottom + 16} textAnchor="middle">
          {p.mass === "g" ? tickText(v) : shown("mass", v, p).text}
        </text>
      ))}
    </g>
  );
}

type Scale = (v: number) => number;

type SweepProps = { sweep: Sweep; x: Scale; y: Scale; right: number; top: number };

function SweepLine({ sweep, x, y, right, top }: SweepProps) {
  const points = sweep.mass_g
    .map((g, i) => [x(g), y(sweep.minutes[i] ?? 0)] as const)
    .filter(([px, py]) => px <= right && py >= top);
  const turning = sweep.turning_mass_g;
  const peak = turning === null ? undefined : { x: x(turning), y: y(Math.max(...sweep.minutes)) };
  return (
    <g pointerEvents="none">
      <polyline points={pointsOf(points)} fill="none" stroke="var(--fjord)" strokeWidth={1.2} opacity={0.8} />
      {peak && peak.x < right && peak.y > top && (
        <>
          <line
            x1={peak.x}
            x2={peak.x}
            y1={peak.y - 7}
            y2={peak.y + 7}
            stroke="var(--fjord)"
            strokeWidth={1.5}
          />
          <text x={Math.min(peak.x, right - 60)} y={peak.y - 12} textAnchor="middle">
            heavier runs shorter
          </text>
        </>
      )}
    </g>
  );
}

function Ring({ plan, id, x, y, dash }: { plan: Plan; id: string; x: Scale; y: Scale; dash?: string }) {
  const i = plan.field.ids.indexOf(id);
  if (i < 0) return null;
  const px = x(plan.field.mass_g[i] ?? 0);
  const py = y(plan.field.minutes[i] ?? 0);
  return (
    <g pointerEvents="none">
      <circle
        cx={px}
        cy={py}
        r={13}
        fill="var(--sheet)"
        fillOpacity={0.7}
        stroke="var(--fjord)"
        strokeWidth={2}
        strokeDasharray={dash}
      />
      <path
        d={glyph(px, py, plan.field.series[i] ?? 1)}
        fill={heat(plan.field.loading[i] ?? 0)}
        stroke="var(--ink)"
        strokeWidth={0.5}
      />
    </g>
  );
}

function Tip({ plan, row, x, y, width }: { plan: Plan; row: number; x: Scale; y: Scale; width: number }) {
  const p = usePreferences();
  const left = x(plan.field.mass_g[row] ?? 0);
  const top = y(plan.field.minutes[row] ?? 0);
  return (
    <div
      className="pointer-events-none absolute z-10 max-w-60 border border-rule-strong bg-sheet px-2.5 py-1.5
        text-small"
      style={{ left: `${Math.min(left + 14, width - 200) / 16}rem`, top: `${(top + 12) / 16}rem` }}
    >
      <div className="font-semibold">{plan.field.names[row]}</div>
      <div className="number text-fine">
        about {wholeMinutes(plan.field.minutes[row] ?? 0)}, {worded("mass", plan.field.mass_g[row] ?? 0, p)},
        hottest link {loadingText(plan.field.loading[row] ?? 0)}
      </div>
    </div>
  );
}

/** A change of the job to other minutes, in halves. */
function withMinutes(next: (now: number) => number) {
  return (job: Job): Job => {
    const minutes = round(Math.max(next(job.wants.minutes ?? 0), 0.5), 0.5);
    return { ...job, wants: { ...job.wants, minutes } };
  };
}

/** A change of the job to another heaviest pack, in round steps. */
function withMass(next: (now: number) => number) {
  return (job: Job): Job => {
    const wanted = next(job.wants.mass_g ?? 0);
    const step = massStep(wanted);
    return { ...job, wants: { ...job.wants, mass_g: round(Math.max(wanted, step), step) } };
  };
}

function massStep(g: number): number {
  return g < 30 ? 0.5 : g < 150 ? 1 : 5;
}

function round(v: number, step: number): number {
  return rounded(Math.round(v / step) * step, 6);
}

function clamp(v: number, low: number, high: number): number {
  return Math.min(Math.max(v, low), high);
}
