import { type Preferences, STANDARD } from "@/format/preferences";

/** What a number is, so that its unit, its digits and the user's preference are settled in one place. */
export type Kind =
  | "mass"
  | "length"
  | "fine_length"
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
  | "hours_used"
  | "milliamps"
  | "speed"
  | "area"
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
  | "hundredths"
  | "cycles"
  | "count";

/** Those whose unit nobody chooses. */
export type Plain = Exclude<
  Kind,
  "mass" | "length" | "fine_length" | "speed" | "area" | "temperature" | "temperature_step" | "price"
>;

type Rule = {
  unit: string;
  /** How many behind the point: always so many, or by the size of what is shown. */
  digits: number | ((shown: number) => number);
  show?: (v: number) => number;
};

const from =
  (limit: number, below: number, above = 0) =>
  (v: number) =>
    Math.abs(v) >= limit ? above : below;
const inTens = (v: number) => (v >= 1000 ? Math.round(v / 10) * 10 : v);

const PLAIN: Record<Plain, Rule> = {
  current: { unit: "A", digits: from(20, 1) },
  // a charger's whole tenths are shown as such
  amps_set: { unit: "A", digits: (v) => (v >= 10 || rounded(v * 10, 7) % 1 === 0 ? 1 : 2) },
  voltage: { unit: "V", digits: from(10, 2, 1) },
  cell_voltage: { unit: "V", digits: 2 },
  cell_reading: { unit: "V", digits: 3 },
  millivolts: { unit: "mV", digits: from(10, 1) },
  minutes: { unit: "min", digits: from(100, 1) },
  whole_minutes: { unit: "min", digits: 0 },
  seconds: { unit: "s", digits: from(10, 1) },
  whole_seconds: { unit: "s", digits: 0 },
  charge: { unit: "mAh", digits: 0, show: inTens },
  capacity: { unit: "mAh", digits: 0, show: (v) => v * 1000 },
  percent: { unit: "%", digits: 0, show: (v) => v * 100 },
  rpm: { unit: "rpm", digits: 0 },
  kv: { unit: "rpm/V", digits: 0 },
  gauge: { unit: "AWG", digits: 0 },
  resistance: { unit: "mΩ", digits: (v) => (Math.abs(v) >= 100 ? 0 : Math.abs(v) >= 10 ? 1 : 2) },
  c_rate: { unit: "C", digits: from(10, 1) },
  power: { unit: "W", digits: from(10, 1) },
  heat: { unit: "W", digits: (v) => (Math.abs(v) >= 10 ? 0 : Math.abs(v) >= 0.1 ? 1 : 2) },
  energy: { unit: "Wh", digits: 0, show: inTens },
  cells: { unit: "cells", digits: 0 },
  hours: { unit: "h", digits: 0 },
  hours_used: { unit: "h", digits: from(10, 1) },
  milliamps: { unit: "mA", digits: from(10, 1) },
  days: { unit: "days", digits: 0 },
  times: { unit: "×", digits: 2 },
  ratio: { unit: "", digits: 1 },
  hundredths: { unit: "", digits: 2 },
  cycles: { unit: "cycles", digits: 1 },
  count: { unit: "", digits: 0 },
};

const OUNCE_G = 28.349523;
const OUNCES: Rule = {
  unit: "oz",
  digits: from(10, 2, 1),
  show: (v) => v / OUNCE_G,
};
const INCHES: Rule = { unit: "in", digits: 2, show: (v) => v / 25.4 };
const MILES: Rule = { unit: "mph", digits: from(10, 1), show: (v) => v / 1.609344 };
const SQUARE_INCHES: Rule = { unit: "in²", digits: 0, show: (v) => v / 0.064516 };
const FAHRENHEIT: Rule = { unit: "°F", digits: 0, show: (v) => v * 1.8 + 32 };
const STEPS_F: Rule = { unit: "°F", digits: 0, show: (v) => v * 1.8 };

function rule(kind: Kind, p: Preferences): Required<Rule> {
  return { show: (v) => v, ...chosen(kind, p) };
}

function chosen(kind: Kind, p: Preferences): Rule {
  switch (kind) {
    case "mass":
      return p.mass === "g" ? { unit: "g", digits: from(20, 1) } : OUNCES;
    case "fine_length":
      return p.length === "mm" ? { unit: "mm", digits: 1 } : { ...INCHES, digits: 3 };
    case "length":
      return p.length === "mm" ? { unit: "mm", digits: 0 } : INCHES;
    case "speed":
      return p.length === "mm" ? { unit: "km/h", digits: from(10, 1) } : MILES;
    case "area":
      return p.length === "mm" ? { unit: "dm²", digits: from(10, 1) } : SQUARE_INCHES;
    case "temperature":
      return p.temperature === "C" ? { unit: "°C", digits: 0 } : FAHRENHEIT;
    case "temperature_step":
      return p.temperature === "C" ? { unit: "°C", digits: 0 } : STEPS_F;
    case "price":
      return { unit: p.currency, digits: 2 };
    default:
      return PLAIN[kind];
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

/** Minutes from which on people speak of hours. */
const IN_HOURS_FROM = 180;
const inHours = (minutes: number) => (minutes / 60).toFixed(minutes < 600 ? 1 : 0);

/** A stored value as it is read: with sensible digits and the preferred unit. */
export function shown(kind: Kind, value: number, p: Preferences): Shown {
  if (kind === "minutes" && value >= IN_HOURS_FROM) return { text: inHours(value), unit: "h" };
  const r = rule(kind, p);
  const v = r.show(value);
  const digits = typeof r.digits === "number" ? r.digits : r.digits(v);
  return { text: grouped(v.toFixed(digits)), unit: r.unit };
}

export function worded(kind: Plain, value: number, p?: Preferences): string;
export function worded(kind: Kind, value: number, p: Preferences): string;
export function worded(kind: Kind, value: number, p = STANDARD): string {
  const s = shown(kind, value, p);
  return s.unit === "C" ? `${s.text}${s.unit}` : `${s.text} ${s.unit}`.trim();
}

/** Minutes that nobody knows to the tenth. */
export const wholeMinutes = (minutes: number): string =>
  worded(minutes < IN_HOURS_FROM ? "whole_minutes" : "minutes", minutes);

/** A figure without its unit, for where that stands once for many; other words where there is none. */
export function bare(kind: Plain, value: number | null | undefined, none = ""): string {
  if (value === null || value === undefined) return none;
  const { text, unit } = shown(kind, value, STANDARD);
  return kind === "minutes" && unit === "h" ? `${text} h` : text;
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

/** Of these nobody gives thousandths: three digits behind a point would be read as thousands. */
export const UNITS_WITHOUT_THOUSANDTHS = ["g", "mA", "mAh", "rpm", "rpm/V", "AWG", "cells", ""];

/**
 * What a field holds for a stored value: plain, without grouping, with as many digits as were kept (up to
 * five).
 */
export function typed(kind: Kind, value: number, p: Preferences): string {
  const { show, unit } = rule(kind, p);
  const text = String(rounded(show(value), 5));
  const misread = UNITS_WITHOUT_THOUSANDTHS.includes(unit) && /^-?\d{1,3}\.\d{3}$/.test(text);
  return misread ? String(Number(show(value).toFixed(2))) : text;
}

/** A loading as per cent, with a digit more where it would round to 100 % from above. */
export function loadingText(loading: number): string {
  const percent = loading * 100;
  const text = percent > 100 && percent < 100.5 ? Math.max(percent, 100.1).toFixed(1) : percent.toFixed(0);
  return `${text} %`;
}
