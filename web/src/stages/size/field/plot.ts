import type { Job, Plan } from "@/api/types";
import { px } from "@/charts/scale";
import { heatStep } from "@/parts/heat";

export type Domain = { grams: [number, number]; minutes: [number, number] };

export const PLATE_W = 9;

/** The plot's limits: the lines wanted, the shortlist, and the best of the field with some room. */
export function domainOf(plan: Plan, job: Job): Domain {
  const { mass_g, minutes } = plan.field;
  const wantedG = job.wants.mass_g ?? quantile(mass_g, 0.8);
  const wantedMin = job.wants.minutes ?? (job.equipment && plan.wanted_min) ?? quantile(minutes, 0.7);
  const rows = [...plan.shortlist, ...plan.misses];
  // where more pack runs shorter, the plot reaches out to show it
  const turning = plan.turning_mass_g ? 1.5 * plan.turning_mass_g : 0;
  const highG = Math.max(1.6 * wantedG, 1.1 * Math.max(0, ...rows.map((r) => r.mass_g)), turning);
  const wanted = Math.max(1.9 * wantedMin, 1.1 * Math.max(0, ...rows.map((r) => r.minutes)));
  // packs that run much longer are followed no further: the plot ends below where their marks would pile up
  const highMin = plan.followed_min ? Math.min(wanted, 0.97 * plan.followed_min) : wanted;
  return { grams: [0, highG], minutes: [0, highMin] };
}

function quantile(values: number[], q: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(q * (sorted.length - 1))] ?? 1;
}

export type Group = { heat: Heat; look: Look; d: string };
type Heat = 0 | 1 | 2 | 3 | 4;
/** clear: does the job; veiled: does not; made: made up, for the shopping line; thinned: one of a crowd. */
type Look = "thinned" | "veiled" | "made" | "clear";
const LOOKS: Look[] = ["thinned", "veiled", "made", "clear"];

/** Side of the squares in which marks are counted, and how many stay whole in one. [px] */
const CROWD_PX = 16;
const CROWD = 1;

/**
 * One path for each heat step, within and outside of what is wanted: thousands of marks, a dozen elements.
 * Where marks crowd, the shortlist, the front and what is owned stay whole; the rest becomes dots, as dense
 * as they are.
 */
export function groups(
  plan: Plan,
  x: (g: number) => number,
  y: (m: number) => number,
  inside: (px: number, py: number) => boolean,
): Group[] {
  const { mass_g, minutes, series, loading, feasible, kinds } = plan.field;
  const paths = new Map<string, { heat: Heat; look: Look; parts: string[] }>();
  const whole = keptWhole(plan);
  const crowd = new Map<string, number>();
  for (let i = 0; i < mass_g.length; i++) {
    const px = x(mass_g[i] ?? 0);
    const py = y(minutes[i] ?? 0);
    // a pack that stops at its first peak would only crowd the axis
    if (!inside(px, py) || (minutes[i] ?? 0) < 1) continue;
    const heat = heatStep(loading[i] ?? 0);
    const made = kinds[i] === "generic";
    const square = `${Math.round(px / CROWD_PX)} ${Math.round(py / CROWD_PX)}`;
    const before = crowd.get(square) ?? 0;
    crowd.set(square, before + 1);
    const thin = before >= CROWD && !whole.has(i);
    const look: Look = thin ? "thinned" : feasible[i] ? (made ? "made" : "clear") : "veiled";
    const key = `${heat}${look}`;
    let group = paths.get(key);
    if (!group) {
      group = { heat, look, parts: [] };
      paths.set(key, group);
    }
    group.parts.push(thin ? dot(px, py) : glyph(px, py, series[i] ?? 1, made ? 0.6 : 1));
  }
  return [...paths.values()]
    .sort((a, b) => LOOKS.indexOf(a.look) - LOOKS.indexOf(b.look))
    .map(({ heat, look, parts }) => ({ heat, look, d: parts.join("") }));
}

/** Rows that are never thinned: those listed, the front, and what one owns. */
function keptWhole(plan: Plan): Set<number> {
  const listed = new Set([...plan.shortlist, ...plan.misses].map((r) => r.id));
  const kept = new Set(plan.front);
  plan.field.ids.forEach((id, i) => {
    const kind = plan.field.kinds[i];
    if (listed.has(id) || kind === "owned" || kind === "now") kept.add(i);
  });
  return kept;
}

function dot(x: number, y: number): string {
  return `M${px(x - 1)} ${px(y - 1)}h2v2h-2z`;
}

/** A small stack: one plate a cell in series, every other shifted, like pouch cells. */
export function glyph(x: number, y: number, series: number, scale = 1): string {
  const plates = Math.min(series, 14);
  const pitch = scale * (plates > 8 ? 2 : plates > 5 ? 2.7 : 3.5);
  const height = pitch * 0.74;
  const width = PLATE_W * scale;
  let d = "";
  for (let k = 0; k < plates; k++) {
    const left = x - width / 2 + (k % 2 ? 0.75 : -0.75) * scale;
    const top = y - (plates * pitch) / 2 + k * pitch;
    d += `M${px(left)} ${px(top)}h${width}v${px(height)}h${-width}z`;
  }
  return d;
}

/** The candidate nearest to a point of the plot, within 14 px. */
export function nearest(
  plan: Plan,
  px: number,
  py: number,
  x: (g: number) => number,
  y: (m: number) => number,
): number | undefined {
  const { mass_g, minutes, feasible } = plan.field;
  let best: number | undefined;
  let least = 14 * 14;
  for (let i = 0; i < mass_g.length; i++) {
    const dx = x(mass_g[i] ?? 0) - px;
    const dy = y(minutes[i] ?? 0) - py;
    const distance = dx * dx + dy * dy + (feasible[i] ? 0 : 30);
    if (distance < least) {
      least = distance;
      best = i;
    }
  }
  return best;
}
