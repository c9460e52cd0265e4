import type { Preferences } from "@/format/preferences";
import type { Kind } from "@/format/quantity";
import { readTyped, type Typed, type Unit } from "@/format/typed";

/** What is kept of each kind, and the unit of a figure without one where that is another. */
function asKept(kind: Kind, p: Preferences): [Unit, string] {
  switch (kind) {
    case "mass":
      return ["g", p.mass === "oz" ? "oz" : ""];
    case "length":
      return ["mm", p.length === "in" ? "in" : ""];
    case "speed":
      return ["km/h", p.length === "in" ? "mph" : ""];
    case "area":
      return ["dm²", p.length === "in" ? "sqin" : ""];
    case "temperature":
      return ["°C", p.temperature === "F" ? "°f" : ""];
    case "capacity":
      return ["Ah", "mah"];
    case "percent":
      return ["", "%"];
    case "price":
      return ["money", ""];
    default:
      return [UNIT_OF[kind] ?? "", ""];
  }
}

const UNIT_OF: Partial<Record<Kind, Unit>> = {
  current: "A",
  amps_set: "A",
  voltage: "V",
  minutes: "min",
  seconds: "s",
  hours: "h",
  hours_used: "h",
  milliamps: "mA",
  charge: "mAh",
  rpm: "rpm",
  kv: "rpm/V",
  gauge: "AWG",
  resistance: "mΩ",
  c_rate: "C",
  power: "W",
  heat: "W",
  energy: "Wh",
  cells: "cells",
};

export type Parsed = Typed;

/** A figure as people type it, by its kind: with or without a unit, a comma, minutes as on a watch. */
export function parsed(kind: Kind, text: string, p: Preferences): Parsed {
  const found = readTyped(text, ...asKept(kind, p));
  // differences of temperature have no unit of their own to be typed
  const steps = kind === "temperature_step" && p.temperature === "F";
  return steps && "value" in found ? { value: found.value / 1.8 } : found;
}
