import { scaleLinear } from "@visx/scale";

/** A linear scale with round ticks, about one for each so many px. */
export function axisScale(domain: [number, number], range: [number, number], every = 90) {
  const scale = scaleLinear<number>({ domain, range });
  const count = Math.max(2, Math.round(Math.abs(range[1] - range[0]) / every));
  return { scale, ticks: scale.ticks(count) };
}

export function tickText(value: number): string {
  return Math.abs(value) >= 10_000 ? `${value / 1000}k` : String(Number(value.toPrecision(6)));
}
