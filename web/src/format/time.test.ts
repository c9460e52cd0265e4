import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { STANDARD } from "@/format/preferences";
import { clock, dayTime, localMinute, minutesWords, readTime, timeOf, timeWords } from "@/format/time";

const HALVES = { ...STANDARD, time: "12" } as const;

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
  expect([545, 1440 + 30].map((t) => dayTime(t, STANDARD))).toEqual(["09:05", "00:30"]);
});

it("tells the halves of the day to those who want them", () => {
  const told = [0, 30, 540, 720, 725, 1439].map((t) => dayTime(t, HALVES));
  expect(told).toEqual(["12 am", "12:30 am", "9 am", "12 pm", "12:05 pm", "11:59 pm"]);
  expect(timeOf("2026-11-25T18:04:00", HALVES)).toBe("6:04 pm");
  expect(timeWords("2026-11-25T18:04:00", HALVES, new Date(2026, 10, 26))).toBe("on 25 Nov, 6:04 pm");
});

it("reads times as people write them, and nothing else", () => {
  const kept = {
    "9": "09:00",
    "9:05": "09:05",
    "905": "09:05",
    "1430": "14:30",
    "14.30": "14:30",
    "14 h": undefined,
  };
  for (const [text, time] of Object.entries(kept)) expect(readTime(text), text).toBe(time);
  const halves = { "2:30 pm": "14:30", "12 am": "00:00", "12pm": "12:00", "2p": "14:00", "2 P.M.": "14:00" };
  for (const [text, time] of Object.entries(halves)) expect(readTime(text), text).toBe(time);
  for (const text of ["", "24", "9:60", "13 pm", "0 am", "soon", "9:5", "-1", "99999"])
    expect(readTime(text), text).toBeUndefined();
  for (let t = 0; t < 1440; t++)
    for (const p of [STANDARD, HALVES]) expect(readTime(dayTime(t, p))).toBe(dayTime(t, STANDARD));
});

it("names the day of a moment that is not today's", () => {
  expect(timeOf("2026-11-25T18:04:00", STANDARD)).toBe("18:04");
  expect(timeOf("2026-11-25T18:04:00", STANDARD, "2026-11-25T09:00:00")).toBe("18:04");
  expect(timeOf("2026-11-26T07:30:00", STANDARD, "2026-11-25T22:00:00")).toBe("Thu 07:30");
});

it("gives this minute without seconds or a zone", () => {
  vi.setSystemTime(new Date(2026, 0, 3, 4, 5, 59));
  expect(localMinute()).toBe("2026-01-03T04:05:00");
});
