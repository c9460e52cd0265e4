import { describe, expect, it } from "vitest";
import { COARSE_BARE } from "@/api/units";
import { parsed } from "@/format/parse";
import { type Preferences, STANDARD } from "@/format/preferences";
import { type Kind, loadingText, shown, typed, UNITS_WITHOUT_THOUSANDTHS, worded } from "@/format/quantity";

const IMPERIAL: Preferences = { ...STANDARD, mass: "oz", length: "in", temperature: "F", currency: "$" };
const KINDS: Kind[] = ["mass", "length", "temperature", "current", "capacity", "percent", "resistance"];

describe("what is shown", () => {
  it.each<[Kind, number, string]>([
    ["mass", 402.4, "402 g"],
    ["mass", 7.25, "7.3 g"],
    ["capacity", 3.7, "3700 mAh"],
    ["charge", 2346, "2350 mAh"],
    ["charge", 12_346, "12\u2009350 mAh"],
    ["temperature", -4.4, "−4 °C"],
    ["voltage", 3.456, "3.46 V"],
    ["voltage", 14.78, "14.8 V"],
    ["c_rate", 45, "45C"],
    ["amps_set", 2.35, "2.35 A"],
    ["amps_set", 2.3, "2.3 A"],
    ["heat", 0.052, "0.05 W"],
    ["percent", 0.805, "81 %"],
  ])("%s %d is %s", (kind, value, words) => {
    expect(worded(kind, value, STANDARD)).toBe(words);
  });

  it("is in the units that one prefers", () => {
    expect(worded("mass", 402.4, IMPERIAL)).toBe("14.2 oz");
    expect(worded("length", 138, IMPERIAL)).toBe("5.43 in");
    expect(worded("temperature", 20, IMPERIAL)).toBe("68 °F");
    // a step of ten kelvin is eighteen degrees Fahrenheit, not fifty
    expect(shown("temperature_step", 10, IMPERIAL)).toEqual({ text: "18", unit: "°F" });
  });

  it("says more than 100 % of a loading that is just above it", () => {
    expect([0.994, 1, 1.0004, 1.004, 1.3].map(loadingText)).toEqual([
      "99 %",
      "100 %",
      "100.1 %",
      "100.4 %",
      "130 %",
    ]);
  });
});

describe("what is typed", () => {
  it.each(["12abc", "1.2.3", "--5", "1e3", "0x10", "Infinity"])("%s is not a number", (text) => {
    expect(parsed("current", text, STANDARD)).toEqual({ problem: `“${text}” is not a number.` });
  });

  it("takes a decimal comma, a minus sign of the typesetter's and half a number", () => {
    expect(parsed("current", " 12,5 ", STANDARD)).toEqual({ value: 12.5 });
    expect(parsed("temperature", "−4", STANDARD)).toEqual({ value: -4 });
    expect(parsed("current", ".5", STANDARD)).toEqual({ value: 0.5 });
    expect(parsed("current", "", STANDARD)).toEqual({ problem: "Enter a number." });
    expect(parsed("current", "9".repeat(400), STANDARD)).toEqual({
      problem: expect.stringContaining("is not a number"),
    });
  });

  it("reads a bare figure in the unit that the field shows, and any other with its own", () => {
    expect(parsed("mass", "14", IMPERIAL)).toEqual({ value: 396.893322 });
    expect(parsed("mass", "250 g", IMPERIAL)).toEqual({ value: 250 });
    expect(parsed("capacity", "850", STANDARD)).toEqual({ value: 0.85 });
    expect(parsed("percent", "85", STANDARD)).toEqual({ value: 0.85 });
    expect(parsed("percent", "85 %", STANDARD)).toEqual({ value: 0.85 });
    expect(parsed("temperature_step", "18", IMPERIAL)).toEqual({ value: 10 });
    expect(parsed("minutes", "4:30", STANDARD)).toEqual({ value: 4.5 });
    expect(typed("mass", 12.3456789, STANDARD)).toBe("12.35");
  });

  it.each([STANDARD, IMPERIAL])("comes back as it was kept", (p) => {
    for (const kind of KINDS)
      for (const value of [0.5, 3.7, 42, 138]) {
        const back = parsed(kind, typed(kind, value, p), p);
        expect("value" in back && Math.abs(back.value / value - 1)).toBeLessThan(1e-4);
      }
  });
});

it("writes no thousandths that core would read as thousands", () => {
  expect([...UNITS_WITHOUT_THOUSANDTHS].sort()).toEqual([...COARSE_BARE].sort());
});
