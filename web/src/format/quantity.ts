import { type Preferences, STANDARD } from "@/format/preferences";

/** What a number is, so that its unit, its digits and the user's preference are settled in one place. */
export type Kind =
  | "mass"
  | "length"
  | "temperature"
  | "temperature_step"
  | "current"
  | "voltage"
  | "cell_voltage"
  | "cell_reading"
  | "millivolts"
  | "minutes"
  | "whole_minutes"
  | "seconds"
  | "whole_seconds"
  | "charge"
  | "capacity"
  | "percent"
  | "rpm"
  | "kv"
  | "gauge"
  | "resistance"
  | "c_rate"
  | "price"
  | "power"
  | "heat"
  | "amps_set"
  | "energy"
  | "cells"
  | "hours"
  | "days"
  | "times"
  | "ratio"
  | "cycles"
  | "count";

/** Those whose unit nobody chooses. */
export type Plain = Exclude<Kind, "mass" | "length" | "temperature" | "temperature_step" | "price">;

type Rule = {
  unit: string;
  digits: (shown: number) => number;
  show: (v: number) => number;
  keep: (v: number) => number;
};

const same = (v: number) => v;
const fixed = (n: number) => () => n;
const aboutThree = (v: number) => (Math.abs(v) >= 100 ? 0 : Math.abs(v) >= 10 ? 1 : 2);

function rule(kind: Kind, p: Preferences): Rule {
  switch (kind) {
    case "mass":
      return p.mass === "g"
        ? { unit: "g", digits: (v) => (Math.abs(v) < 20 ? 1 : 0), show: same, keep: same }
        : {
            unit: "oz",
            digits: (v) => (Math.abs(v) < 10 ? 2 : 1),
            show: (v) => v / 28.349523,
            keep: (v) => v * 28.349523,
          };
    case "length":
      return p.length === "mm"
        ? { unit: "mm", digits: fixed(0), show: same, keep: same }
        : { unit: "in", digits: fixed(2), show: (v) => v / 25.4, keep: (v) => v * 25.4 };
    case "temperature":
      return p.temperature === "C"
        ? { unit: "°C", digits: fixed(0), show: same, keep: same }
        : { unit: "°F", digits: fixed(0), show: (v) => v * 1.8 + 32, keep: (v) => (v - 32) / 1.8 };
    case "temperature_step":
      return p.temperature === "C"
        ? { unit: "°C", digits: fixed(0), show: same, keep: same }
        : { unit: "°F", digits: fixed(0), show: (v) => v * 1.8, keep: (v) => v / 1.8 };
    case "current":
      return { unit: "A", digits: (v) => (Math.abs(v) >= 20 ? 0 : 1), show: same, keep: same };
    case "voltage":
      return { unit: "V", digits: (v) => (Math.abs(v) >= 10 ? 1 : 2), show: same, keep: same };
    case "cell_voltage":
      return { unit: "V", digits: fixed(2), show: same, keep: same };
    case "cell_reading":
      return { unit: "V", digits: fixed(3), show: same, keep: same };
    case "millivolts":
      return { unit: "mV", digits: (v) => (Math.abs(v) >= 10 ? 0 : 1), show: same, keep: same };
    case "whole_minutes":
      return { unit: "min", digits: fixed(0), show: same, keep: same };
    case "whole_seconds":
      return { unit: "s", digits: fixed(0), show: same, keep: same };
    case "ratio":
      return { unit: "", digits: fixed(1), show: same, keep: same };
    case "cycles":
      return { unit: "cycles", digits: fixed(1), show: same, keep: same };
    case "minutes":
      return { unit: "min", digits: (v) => (Math.abs(v) >= 100 ? 0 : 1), show: same, keep: same };
    case "seconds":
      return { unit: "s", digits: (v) => (Math.abs(v) >= 10 ? 0 : 1), show: same, keep: same };
    case "charge":
      return {
        unit: "mAh",
        digits: fixed(0),
        show: (v) => (v >= 1000 ? Math.round(v / 10) * 10 : v),
        keep: same,
      };
    case "capacity":
      return { unit: "mAh", digits: fixed(0), show: (v) => v * 1000, keep: (v) => v / 1000 };
    case "percent":
      return { unit: "%", digits: fixed(0), show: (v) => v * 100, keep: (v) => v / 100 };
    case "rpm":
      return { unit: "rpm", digits: fixed(0), show: same, keep: same };
    case "kv":
      return { unit: "rpm/V", digits: fixed(0), show: same, keep: same };
    case "gauge":
      return { unit: "AWG", digits: fixed(0), show: same, keep: same };
    case "resistance":
      return { unit: "mΩ", digits: aboutThree, show: same, keep: same };
    case "c_rate":
      return { unit: "C", digits: (v) => (Math.abs(v) >= 10 ? 0 : 1), show: same, keep: same };
    case "price":
      return { unit: p.currency, digits: fixed(2), show: same, keep: same };
    case "power":
      return { unit: "W", digits: (v) => (Math.abs(v) >= 10 ? 0 : 1), show: same, keep: same };
    case "heat":
      return {
        unit: "W",
        digits: (v) => (Math.abs(v) >= 10 ? 0 : Math.abs(v) >= 0.1 ? 1 : 2),
        show: same,
        keep: same,
      };
    case "amps_set":
      return {
        unit: "A",
        digits: (v) => (v >= 10 || rounded(v * 10, 7) % 1 === 0 ? 1 : 2),
        show: same,
        keep: same,
      };
    case "energy":
      return {
        unit: "Wh",
        digits: fixed(0),
        show: (v) => (v >= 1000 ? Math.round(v / 10) * 10 : v),
        keep: same,
      };
    case "cells":
      return { unit: "cells", digits: fixed(0), show: same, keep: same };
    case "hours":
      return { unit: "h", digits: fixed(0), show: same, keep: same };
    case "days":
      return { unit: "days", digits: fixed(0), show: same, keep: same };
    case "times":
      return { unit: "×", digits: fixed(2), show: same, keep: same };
    case "count":
      return { unit: "", digits: fixed(0), show: same, keep: same };
  }
}

const THIN_SPACE = "\u2009";

function grouped(text: string): string {
  const [whole = "", part] = text.split(".");
  const sign = whole.startsWith("-") ? "−" : "";
  const bare = whole.replace("-", "");
  const spaced = bare.length > 4 ? bare.replace(/\B(?=(\d{3})+$)/g, THIN_SPACE) : bare;
  return sign + spaced + (part ? `.${part}` : "");
}

export type Shown = { text: string; unit: string };

/** A stored value as it is read: with sensible digits and the preferred unit. */
export function shown(kind: Kind, value: number, p: Preferences): Shown {
  const r = rule(kind, p);
  const v = r.show(value);
  return { text: grouped(v.toFixed(r.digits(v))), unit: r.unit };
}

export function worded(kind: Plain, value: number, p?: Preferences): string;
export function worded(kind: Kind, value: number, p: Preferences): string;
export function worded(kind: Kind, value: number, p = STANDARD): string {
  const s = shown(kind, value, p);
  return s.unit === "C" ? `${s.text}${s.unit}` : `${s.text} ${s.unit}`.trim();
}

/** A figure without its unit, for where that stands once for many; other words where there is none. */
export function bare(kind: Plain, value: number | null | undefined, none = ""): string {
  return value === null || value === undefined ? none : shown(kind, value, STANDARD).text;
}

/** A range, once where both ends read alike. */
export function between(kind: Plain, low: number, high: number, joint = "–"): string {
  const [a, b] = [bare(kind, low), bare(kind, high)];
  return a === b ? a : `${a}${joint}${b}`;
}

/** With so many digits behind the point as whoever asks has set; without, three that count. */
export function figure(value: number, digits: number | null): string {
  return digits === null ? String(rounded(value, 3)) : value.toFixed(digits);
}

/** To so many figures that count. */
export function rounded(value: number, figures: number): number {
  return Number(value.toPrecision(figures));
}

/** A stored value in the preferred unit, for axes. */
export function inUnit(kind: Kind, value: number, p: Preferences): number {
  return rule(kind, p).show(value);
}

export function unitOf(kind: Kind, p: Preferences): string {
  return rule(kind, p).unit;
}

/**
 * What a field holds for a stored value: plain, without grouping, with as many digits as were kept (up to
 * four).
 */
export function typed(kind: Kind, value: number, p: Preferences): string {
  return String(rounded(rule(kind, p).show(value), 5));
}

export type Parsed = { value: number } | { problem: string };

/** Strict: "12abc" is an error, never 12. A decimal comma is taken as a point. */
export function parsed(kind: Kind, text: string, p: Preferences): Parsed {
  const plain = text.trim().replace("−", "-").replace(",", ".");
  if (plain === "") return { problem: "Enter a number." };
  if (!/^-?(\d+\.?\d*|\.\d+)$/.test(plain))
    return { problem: `“${text.trim().slice(0, 24)}” is not a number.` };
  const value = rule(kind, p).keep(Number(plain));
  return Number.isFinite(value) ? { value } : { problem: "This number is too large." };
}

/** A loading as per cent, with a digit more where it would round to 100 % from above. */
export function loadingText(loading: number): string {
  const percent = loading * 100;
  const text = percent > 100 && percent < 100.5 ? Math.max(percent, 100.1).toFixed(1) : percent.toFixed(0);
  return `${text} %`;
}
