import { ticks } from "d3-array";
import { rounded } from "@/format/quantity";

/** A linear scale with round ticks, about one for each so many px. */
export function axisScale(domain: [number, number], range: [number, number], every = 90) {
  const perUnit = (range[1] - range[0]) / (domain[1] - domain[0] || 1);
  const scale = (value: number) => range[0] + (value - domain[0]) * perUnit;
  const invert = (px: number) => domain[0] + (px - range[0]) / perUnit;
  const count = Math.max(2, Math.round(Math.abs(range[1] - range[0]) / every));
  return { scale, invert, ticks: ticks(...domain, count) };
}

export function tickText(value: number): string {
  return Math.abs(value) >= 10_000 ? `${value / 1000}k` : String(rounded(value, 6));
}

/** A place in a drawing, no finer than it can be seen. */
export const px = (at: number): number => Math.round(at * 10) / 10;

/** Places as a line of a drawing. */
export function pointsOf(places: (readonly [number, number])[]): string {
  return places.map(([x, y]) => `${px(x)},${px(y)}`).join(" ");
}
