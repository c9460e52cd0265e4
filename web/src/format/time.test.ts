import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { clock, dayTime, localMinute, minutesWords, timeOf } from "@/format/time";

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

it("tells durations as a timer and as people say them", () => {
  expect([754, 59.9, 0, 3600].map(clock)).toEqual(["12:34", "0:59", "0:00", "60:00"]);
  expect([25.4, 59.6, 65, 120].map(minutesWords)).toEqual([
    "25 min",
    "1 h 00 min",
    "1 h 05 min",
    "2 h 00 min",
  ]);
});

it("tells the time of day past midnight", () => {
  expect([545, 1440 + 30].map(dayTime)).toEqual(["09:05", "00:30"]);
});

it("names the day of a moment that is not today's", () => {
  expect(timeOf("2026-11-25T18:04:00")).toBe("18:04");
  expect(timeOf("2026-11-25T18:04:00", "2026-11-25T09:00:00")).toBe("18:04");
  expect(timeOf("2026-11-26T07:30:00", "2026-11-25T22:00:00")).toBe("Thu 07:30");
});

it("gives this minute without seconds or a zone", () => {
  vi.setSystemTime(new Date(2026, 0, 3, 4, 5, 59));
  expect(localMinute()).toBe("2026-01-03T04:05:00");
});
