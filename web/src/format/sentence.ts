import { type Preferences, preferences } from "@/format/preferences";
import { type Kind, shown } from "@/format/quantity";

/** Stands unseen behind the unit of a quantity in a sentence of the server's; twice behind a difference. */
const MARK = "\u2060";
const NUMBER = "[−-]?\\d[\\d\u2009.,]*";
/** "14.6 mm", "5 to 25 °C", "138 × 44 × 33 mm". */
const QUANTITY = new RegExp(
  `((?:${NUMBER}(?: to | and | of |–| × ))*${NUMBER}) (g|mm|°C)(${MARK}{1,2})`,
  "g",
);
const EACH = new RegExp(NUMBER, "g");

/** A sentence with its quantities in the units that its reader has chosen. */
export function inWords(sentence: string, p: Preferences = preferences()): string {
  if (!sentence.includes(MARK)) return sentence;
  return sentence.replace(QUANTITY, (_, figures: string, unit: string, marks: string) => {
    const kind = kindOf(unit, marks.length > 1);
    const figure = (text: string) => {
      const value = Number(text.replace("−", "-").replaceAll("\u2009", "").replace(/[.,]$/, ""));
      return unit === shown(kind, value, p).unit ? text : shown(kind, value, p).text;
    };
    return `${figures.replace(EACH, figure)} ${shown(kind, 0, p).unit}`;
  });
}

function kindOf(unit: string, difference: boolean): Kind {
  if (unit === "g") return "mass";
  if (unit === "mm") return "length";
  return difference ? "temperature_step" : "temperature";
}

/** Everything that is said in a reply, with quantities as its reader has chosen. */
export function inReaderUnits<T>(reply: T): T {
  return each(reply) as T;
}

function each(value: unknown): unknown {
  if (typeof value === "string") return inWords(value);
  // columns of figures say nothing
  if (Array.isArray(value)) return typeof value[0] === "number" ? value : value.map(each);
  if (typeof value !== "object" || value === null) return value;
  const out: Record<string, unknown> = {};
  for (const name in value) out[name] = each((value as Record<string, unknown>)[name]);
  return out;
}
