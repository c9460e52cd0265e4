import { expect, it } from "vitest";
import { evenly } from "@/charts/Chart";
import { endLabels } from "@/charts/endLabels";
import { axisScale, tickText } from "@/charts/scale";

it("puts cells whose lines end together under one label, in the order of the cells", () => {
  const ends = [
    { k: 3, at: 20 },
    { k: 1, at: 24 },
    { k: 2, at: 80 },
  ];
  expect(endLabels(ends)).toEqual([
    { text: "1 3", at: 20 },
    { text: "2", at: 80 },
  ]);
});

it("has round ticks within the axis, more on a longer one", () => {
  const short = axisScale([0, 830], [0, 200]);
  const long = axisScale([0, 830], [0, 900]);
  expect(short.ticks.every((t) => t >= 0 && t <= 830 && t % 100 === 0)).toBe(true);
  expect(long.ticks.length).toBeGreaterThan(short.ticks.length);
  expect(short.scale(830)).toBe(200);
});

it("writes ticks without the noise of floating point", () => {
  expect([0.1 + 0.2, 25_000, 5].map(tickText)).toEqual(["0.3", "25k", "5"]);
});

it("takes so many rows of a long list, with both ends, and all of a short one", () => {
  expect(evenly(101, 11)).toEqual([0, 10, 20, 30, 40, 50, 60, 70, 80, 90, 100]);
  expect(evenly(3, 11)).toEqual([0, 1, 2]);
  expect(evenly(0, 11)).toEqual([]);
});
