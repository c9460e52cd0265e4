import { useId } from "react";
import type { BenchPlan } from "@/api/types";
import { Drawing } from "@/charts/Drawing";
import { useWidth } from "@/charts/useWidth";
import { type Preferences, usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { dayTime, timeOf } from "@/format/time";
import { heat } from "@/parts/heat";

const LEFT = 8;
const ROW = 22;
const WATTS = 34;
/** Half the width of an hour as it is written. */
const HALF_A_LABEL = 18;
/** Nothing is charged while nobody is there: such a span is drawn no longer than this. */
const NIGHT_MIN = 30;
const STEPS = [15, 30, 60, 120, 180, 360, 720];

/** A bar a batch on its port, and under each charger and supply its watts against their limit. */
export function TimeLine({ plan }: { plan: BenchPlan }) {
  const [ref, width] = useWidth<HTMLDivElement>(420);
  const title = useId();
  const p = usePreferences();
  const first = plan.slots[0];
  if (!first) return null;
  const finish = Math.max(...[...plan.slots, ...plan.held].map((s) => s.end_min));
  const end =
    Math.max(finish, plan.due_min !== null && plan.due_min < finish * 1.6 ? plan.due_min : 0) * 1.02;
  const nights = away(plan, end);
  const long = length(end, nights);
  const x = (minute: number) => LEFT + (length(minute, nights) / long) * (width - LEFT - 10);
  const lanes = [...new Set([...plan.slots, ...plan.held].map((s) => `${s.charger}:${s.port}`))].sort();
  const chargers = [...new Set(lanes.map((l) => l.split(":")[0] ?? ""))];
  let top = 18;
  const rows: { key: string; y: number }[] = [];
  const heads: { name: string; y: number }[] = [];
  const areas: { use: BenchPlan["uses"][number]; y: number }[] = [];
  for (const c of chargers) {
    heads.push({
      name: [...plan.slots, ...plan.held].find((s) => s.charger === c)?.charger_name ?? "",
      y: top + 10,
    });
    top += 15;
    for (const lane of lanes.filter((l) => l.startsWith(`${c}:`))) {
      rows.push({ key: lane, y: top });
      top += ROW;
    }
    const use = plan.uses.find((u) => u.id === c);
    if (use) {
      areas.push({ use, y: top });
      top += WATTS + 18;
    }
  }
  for (const use of plan.uses.filter((u) => u.id.startsWith("supply:"))) {
    heads.push({ name: use.name, y: top + 10 });
    top += 15;
    areas.push({ use, y: top });
    top += WATTS + 18;
  }
  const every = STEPS.find((s) => long / s <= width / 62) ?? 1440;
  const startOf = new Date(first.start_at).getTime() - first.start_min * 60_000;
  const ticks = ticksOf(startOf, end, every, p).filter(
    (t) => !nights.some(([a, b]) => b - a > NIGHT_MIN && t.minute > a && t.minute < b),
  );
  // an hour beside a span without anybody keeps out of the word in it
  const placed = (at: number) => {
    if (at < HALF_A_LABEL || nights.some(([, b]) => at >= x(b) && at - x(b) < HALF_A_LABEL))
      return { x: at, textAnchor: "start" } as const;
    return nights.some(([a]) => at <= x(a) && x(a) - at < HALF_A_LABEL)
      ? ({ x: at - 4, textAnchor: "end" } as const)
      : ({ x: at, textAnchor: "middle" } as const);
  };
  return (
    <div ref={ref} className="mt-1">
      <Drawing width={width} height={top + 4} role="img" aria-labelledby={title}>
        <title id={title}>{words(plan, p)}</title>
        {ticks.map((t) => (
          <g key={t.minute}>
            <line x1={x(t.minute)} x2={x(t.minute)} y1={14} y2={top} stroke="var(--hollow)" />
            <text className="tick" y={9} {...placed(x(t.minute))}>
              {t.text}
            </text>
          </g>
        ))}
        {nights.map(([a, b]) => (
          <g key={a}>
            <rect x={x(a)} y={14} width={x(b) - x(a)} height={top - 14} fill="var(--hollow)" />
            {x(b) - x(a) > 44 && (
              <text x={x(a)} y={9}>
                {x(b) - x(a) > 100 ? "nobody there" : "nobody"}
              </text>
            )}
          </g>
        ))}
        {heads.map((h) => (
          <text key={h.name + h.y} x={LEFT} y={h.y}>
            {h.name}
          </text>
        ))}
        {rows.map((r) =>
          plan.slots
            .filter((s) => `${s.charger}:${s.port}` === r.key)
            .map((s) => (
              <g key={s.batch}>
                <rect
                  x={x(s.start_min)}
                  y={r.y}
                  width={Math.max(2, x(s.end_min) - x(s.start_min))}
                  height={ROW - 5}
                  fill="var(--sheet)"
                  stroke={s.late_min > 0 ? "var(--alert)" : "var(--ink)"}
                  strokeWidth={s.late_min > 0 ? 2 : 1}
                />
                <text
                  className="tick"
                  x={x(s.start_min) + 5}
                  y={r.y + 12}
                  style={{ fill: "var(--ink)", fontWeight: 600 }}
                >
                  {fitting(s.tags.join("+"), x(s.end_min) - x(s.start_min))}
                </text>
              </g>
            )),
        )}
        {rows.map((r) =>
          plan.held
            .filter((h) => `${h.charger}:${h.port}` === r.key)
            .map((h) => (
              <g key={h.label}>
                <rect
                  x={x(0)}
                  y={r.y}
                  width={Math.max(2, x(h.end_min) - x(0))}
                  height={ROW - 5}
                  fill="var(--hollow)"
                  stroke="var(--ink)"
                  strokeDasharray="3 2"
                />
                <text className="tick" x={x(0) + 5} y={r.y + 12} style={{ fill: "var(--ink)" }}>
                  {fitting(`${h.label} now`, x(h.end_min) - x(0))}
                </text>
              </g>
            )),
        )}
        {areas.map(({ use, y }) => (
          <Watts key={use.id} use={use} y={y} x={x} words={mostOf(use, p)} />
        ))}
        {plan.due_min !== null && plan.due_min <= end && (
          <line
            x1={x(plan.due_min)}
            x2={x(plan.due_min)}
            y1={12}
            y2={top}
            stroke="var(--fjord)"
            strokeWidth={2}
          />
        )}
      </Drawing>
    </div>
  );
}

type Use = BenchPlan["uses"][number];

/** How much of what feeds a charger is taken at most, in words. */
function mostOf(use: Use, p: Preferences): string {
  const watts = `at most ${worded("power", Math.max(...use.watts), p)} of ${worded("power", use.limit_w, p)}`;
  if (use.limit_wh === null || use.used_wh === null) return watts;
  return `${watts}, ${worded("energy", use.used_wh, p)} of ${worded("energy", use.limit_wh, p)}`;
}

type WattsProps = { use: Use; y: number; x: (m: number) => number; words: string };

function Watts({ use, y, x, words: said }: WattsProps) {
  const most = Math.max(...use.watts);
  const height = (w: number) => (w / use.limit_w) * WATTS;
  return (
    <g>
      {use.minutes.slice(0, -1).map((m, i) => {
        const h = height(use.watts[i] ?? 0);
        return (
          <rect
            key={m}
            x={x(m)}
            y={y + WATTS - h}
            width={x(use.minutes[i + 1] ?? m) - x(m)}
            height={h}
            fill={heat((use.watts[i] ?? 0) / use.limit_w)}
          />
        );
      })}
      <line
        x1={x(0)}
        x2={x(use.minutes.at(-1) ?? 0)}
        y1={y}
        y2={y}
        stroke="var(--ink-faint)"
        strokeDasharray="2 2"
      />
      <text className="tick" x={x(0)} y={y + WATTS + 9}>
        {most > 0 ? said : ""}
      </text>
    </g>
  );
}

function fitting(text: string, width: number): string {
  const room = Math.floor((width - 8) / 6.2);
  return text.length <= room ? text : room > 2 ? `${text.slice(0, room - 1)}…` : "";
}

/** Hours in which nobody is at the bench. */
function away(plan: BenchPlan, end: number): [number, number][] {
  const out: [number, number][] = [];
  let at = 0;
  for (const { start_min: a, end_min: b } of plan.spans) {
    if (a > at && at < end) out.push([at, Math.min(a, end)]);
    at = Math.max(at, b);
  }
  return out;
}

/** Minutes as drawn: those of long spans without anybody count for little. */
function length(minute: number, nights: [number, number][]): number {
  return nights.reduce(
    (sum, [a, b]) => sum - Math.max(0, Math.min(minute, b) - a) * Math.max(0, 1 - NIGHT_MIN / (b - a)),
    minute,
  );
}

function ticksOf(
  start: number,
  end: number,
  every: number,
  p: Preferences,
): { minute: number; text: string }[] {
  const d = new Date(start);
  const ofDay = d.getHours() * 60 + d.getMinutes();
  const out = [];
  for (let m = Math.ceil(ofDay / every) * every - ofDay; m <= end; m += every) {
    const t = (ofDay + m) % 1440;
    out.push({
      minute: m,
      text: dayTime(t, p),
    });
  }
  return out;
}

function words(plan: BenchPlan, p: Preferences): string {
  const bars = plan.slots.map(
    (s) =>
      `${s.tags.join(" and ")} on ${s.charger_name} port ${s.port} ` +
      `from ${timeOf(s.start_at, p)} to ${timeOf(s.end_at, p)}`,
  );
  return `Schedule: ${bars.join("; ")}.`;
}
