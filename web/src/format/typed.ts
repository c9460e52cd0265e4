import * as told from "@/api/units";

export type Unit = keyof typeof told.UNITS;
/** What was understood of a figure, in the unit that is kept; or what is wrong, and what it could be. */
export type Typed = { value: number } | { problem: string; couldBe?: number[] };

type Scale = { factor: number; offset: number };
type Given = { text: string; plain: string; unit: Unit; bare: string };

const TIMES: Partial<Record<Unit, number>> = { min: 1 / 60, s: 1, h: 1 / 3600 };
const COARSE: readonly string[] = told.COARSE;
const COARSE_BARE: readonly string[] = told.COARSE_BARE;
const ASKED: readonly string[] = told.ASKED;
const PARTS: readonly number[] = told.PARTS;

const FIGURE = "\\d[\\d.,'’ ]*\\d|\\d|[.,]\\d+";
const WHOLE = new RegExp(`^([+-]?)(${FIGURE})\\s*([^\\d\\s.,+-][^\\d]*?|)\\.?$`);
const FRACTION = /^(?:(\d+) )?(\d+) ?\/ ?(\d+)\s*([^\d\s/].*|)$/;
const RANGE = new RegExp(
  `^(${FIGURE})\\s*\\S{0,4}?\\s*(?:-|to|bis|\\.\\.+|…|or|/)\\s*(${FIGURE})\\s*\\S{0,8}$`,
);
const CLOCK = /^(\d+):(\d{2})(?::(\d{2}))?\s*(?:min|minutes|h|hours)?$/;
const HOURS = "(\\d+) ?h(?:ours?|rs?)? ?";
const MINUTES = "(\\d+) ?(?:m(?:in(?:s|utes?)?)?|') ?";
const SECONDS = "(\\d{1,2}) ?(?:s(?:ec(?:s|onds?)?)?|\"|'')?";
const WATCH = new RegExp(`^(?:${HOURS})?(?:${MINUTES})?(?:${SECONDS})?$`);
const GROUPED = /^\d{1,3}(?:[ '’]\d{3})+(?=$|[.,])/;
const ABOUT = /^(?:~|≈|ca\.?|circa|about|approx\.?|around|etwa)\s*/i;

/**
 * A figure as it was typed, for a quantity that is kept in `unit`; `bare` is the unit of one without any.
 * Core reads figures of files and the API in the same way: both are held by one file of cases.
 */
export function readTyped(text: string, unit: Unit, bare = ""): Typed {
  const plain = plainly(text);
  if (plain === "") return { problem: "Enter a number." };
  if (plain.length <= told.MOST_LETTERS) {
    const given = { text, plain, unit, bare };
    for (const read of [asTime, asNumber, asFraction, asSeveral]) {
      const found = read(given);
      if (found) return found;
    }
  }
  return noNumber(text);
}

function asTime({ plain, unit }: Given): Typed | undefined {
  const each = TIMES[unit];
  const seconds = each === undefined ? undefined : watchSeconds(plain, unit);
  return seconds === undefined || each === undefined ? undefined : kept(seconds, { factor: each, offset: 0 });
}

function asNumber(given: Given): Typed | undefined {
  const { text, unit, bare } = given;
  const plain = unit === "money" ? given.plain.replace(/^([€$£]|eur|usd|chf)\s*(.*)$/, "$2 $1") : given.plain;
  const found = WHOLE.exec(plain);
  if (!found) return undefined;
  const [, sign, figure = "", behind = ""] = found;
  const typed = behind.trim();
  const scale = scaleOf(given, typed);
  if (!scale) return noUnit(text, typed, unit);
  const minus = sign === "-" ? -1 : 1;
  const values = figures(figure, grouping(typed || bare, typed !== "" || bare !== "", unit)).map(
    (v) => minus * v,
  );
  const [value] = values;
  if (value === undefined) return undefined;
  if (values.length > 1) return which(text, values, scale);
  if (unit === "Ah" && bare === "mah" && !typed && value < told.LEAST_MAH)
    return { problem: `${quoted(text)} mAh is next to nothing. ${value} Ah?`, couldBe: [value] };
  return kept(value, scale);
}

function asFraction(given: Given): Typed | undefined {
  const found = FRACTION.exec(given.plain);
  const [, whole = "0", above = "", below = "", behind = ""] = found ?? [];
  // of C two figures are continuous and burst; others that are no part of one are two as well
  if (!found || given.unit === "C" || !PARTS.includes(Number(below)) || Number(above) >= Number(below))
    return undefined;
  const scale = scaleOf(given, behind.trim());
  return scale && kept(Number(whole) + Number(above) / Number(below), scale);
}

function asSeveral(given: Given): Typed | undefined {
  const found = RANGE.exec(given.plain);
  const scale = found ? scaleOf(given, /([^\d\s.,]+)\.?$/.exec(given.plain)?.[1] ?? "") : undefined;
  if (!found || !scale) return undefined;
  const ends = [found[1] ?? "", found[2] ?? ""].flatMap((end) => figures(end, "fine"));
  return ends.length === 2 ? which(given.text, ends, scale) : undefined;
}

/** In plain digits and signs, narrow and wide blanks as one, without *about*. */
function plainly(text: string): string {
  return text
    .replace(/(?<=\d)(?=[½⅓⅔¼¾⅛⅜⅝⅞])/g, " ")
    .normalize("NFKC")
    .replaceAll("\u2044", "/")
    .replaceAll("\u2032\u2032", '"')
    .replaceAll("\u2032", "'")
    .replace(/\s+/g, " ")
    .trim()
    .replace(/[−–]/g, "-")
    .replace(/(dm|cm|in)2\b/gi, "sq$1")
    .replace(ABOUT, "")
    .toLowerCase();
}

type Grouping = "fine" | "coarse" | "asked";

/** The numbers that a figure may be: two where its only sign may group or part, none if it is none. */
function figures(given: string, signs: Grouping): number[] {
  const grouped = GROUPED.exec(given);
  const text = grouped ? grouped[0].replace(/[ '’]/g, "") + given.slice(grouped[0].length) : given;
  if (/[ '’]/.test(text)) return [];
  const sign = text.lastIndexOf(".") > text.lastIndexOf(",") ? "." : ",";
  const other = sign === "." ? "," : ".";
  if (text.includes(other)) {
    const [whole = "", rest, ...more] = text.split(sign);
    const thousands = whole.split(other);
    const sound = rest !== undefined && more.length === 0 && !grouped && inThrees(thousands);
    return sound ? [Number(`${thousands.join("")}.${rest}`)] : [];
  }
  const pieces = text.split(sign);
  if (pieces.length === 1) return [Number(text)];
  if (pieces.length > 2) return inThrees(pieces) && !grouped ? [Number(pieces.join(""))] : [];
  const [before = "", after = ""] = pieces;
  const either =
    !grouped && after.length === 3 && before.length > 0 && before.length < 4 && before[0] !== "0";
  const part = Number(`${before || "0"}.${after || "0"}`);
  if (!either || signs === "fine" || (signs === "asked" && sign === ".")) return [part];
  const together = Number(before + after);
  return signs === "coarse" ? [together] : [together, part];
}

function inThrees([first = "", ...rest]: string[]): boolean {
  return first.length > 0 && first.length < 4 && rest.every((piece) => piece.length === 3);
}

/** What a sign before three digits does behind a figure in this unit. */
function grouping(behind: string, named: boolean, unit: Unit): Grouping {
  if (ASKED.includes(unit)) return "asked";
  return (named ? COARSE.includes(behind) : COARSE_BARE.includes(unit)) ? "coarse" : "fine";
}

/** What one is of the unit that was typed, or of the bare one; nothing for one of another quantity. */
function scaleOf({ unit, bare }: Given, typed: string): Scale | undefined {
  const word = typed || bare;
  if (!word) return { factor: 1, offset: 0 };
  const found = (told.UNITS[unit] as Record<string, number | readonly [number, number]>)[word];
  if (found === undefined) return undefined;
  return typeof found === "number" ? { factor: found, offset: 0 } : { factor: found[0], offset: found[1] };
}

/** A time as on a watch: 4:30, 4m30, 4'30, 1h20. */
function watchSeconds(plain: string, unit: Unit): number | undefined {
  const clock = CLOCK.exec(plain);
  if (clock) {
    const [first = 0, second = 0, third = 0] = clock.slice(1).map((x) => Number(x ?? 0));
    if (second > 59 || third > 59) return undefined;
    return clock[3] !== undefined || unit === "h" ? 3600 * first + 60 * second + third : 60 * first + second;
  }
  const parts = WATCH.exec(plain)?.slice(1) ?? [];
  if (parts.filter((x) => x !== undefined).length < 2) return undefined;
  const [hours, ...rest] = parts;
  // "1h20" are minutes behind the hours
  const [minutes, seconds] = rest[0] === undefined ? [rest[1], undefined] : rest;
  if ((hours !== undefined && Number(minutes ?? 0) > 59) || Number(seconds ?? 0) > 59) return undefined;
  return 3600 * Number(hours ?? 0) + 60 * Number(minutes ?? 0) + Number(seconds ?? 0);
}

function kept(figure: number, { factor, offset }: Scale): Typed {
  return { value: Number((figure * factor + offset).toPrecision(9)) };
}

function which(text: string, values: number[], { factor, offset }: Scale): Typed {
  const couldBe = values.map((v) => Number((v * factor + offset).toPrecision(9)));
  return { problem: `${quoted(text)} may be ${values.join(" or ")}. Which?`, couldBe };
}

/** A unit of something else is told as that; what is no unit at all makes no number. */
function noUnit(text: string, typed: string, unit: Unit): Typed {
  if (!Object.values(told.UNITS).some((words) => typed in words)) return noNumber(text);
  const asTyped = text.normalize("NFKC").trim().replace(/\.+$/, "").slice(-typed.length);
  return { problem: `“${asTyped}” does not go here: say ${told.SAID[unit]}.` };
}

const noNumber = (text: string): Typed => ({ problem: `${quoted(text)} is not a number.` });
const quoted = (text: string) => `“${text.trim().slice(0, 24)}”`;
