/** Volts off a meter, as one typed line tells them: each cell, or the whole pack alone. */
export type TypedVolts = { cells: number[]; pack?: undefined } | { pack: number; cells?: undefined };

const LABEL = /(?<![\d.,])(?:cells? ?|zellen? ?|[cs]|no\.? ?|#)?\d{1,2} ?[:=)](?=\s*[\d.,])/g;
const UNIT = /(?<=[\d.,]) ?(?:m?v|volts?)(?![a-z])/g;
const WORDS =
  "v|volts?|cells?|pack|batter(?:y|ies)|whole|total|all|together|sum|in|is|at|rest|each|the|and|of|it|" +
  "reads?|shows?";
const FILLING = new RegExp(`(?<![a-z])(?:${WORDS})(?![a-z])`, "g");
const BETWEEN = /(?<=\d)(?:[-–—|+&]| [-–—|+&] )(?=[\d.,])|[=:]/g;

/**
 * "3.82 3.83", "3,82, 3,83", "382 383"; "11.44 V" of all; "3.82 7.65 11.44" along the balance plug; or what
 * is wrong. Core reads them by the same rules, and is asked wherever there is a line.
 */
export function typedVolts(text: string, series: number, highest: number): TypedVolts | string {
  const words = wordsOf(text, series);
  const odd = words.find((w) => !/^(\d{1,5}|\d{0,3}[.,]\d{0,4})$/.test(w) || !/\d/.test(w));
  if (odd !== undefined) {
    const how =
      series === 1 ? "Type its volts, like 3.82." : "Type each cell, like 3.82 3.83, or all together.";
    return `“${odd.slice(0, 20)}” is no voltage. ${how}`;
  }
  if (words.length === 1 && series > 1) return wholeOf(words[0] ?? "", series, highest);
  const cells = words.map(cellOf);
  if (words.length === series && cells.every((v) => v <= highest)) return { cells };
  if (series === 1) return refused(cells, series, highest);
  const steps = stepsOf(words, series, highest);
  if (steps) return { cells: steps };
  if (words.length === series + 1) {
    const both = bothOf(words, highest);
    if (typeof both === "string") return both;
    if (both) return { cells: both };
  }
  if (words.length === 2) {
    const [one = 0, whole = 0] = words.map(numberOf).sort((a, b) => a - b);
    if (one <= highest && highest < whole && Math.abs(series * one - whole) <= SUM_WITHIN * whole)
      return { pack: whole };
  }
  return refused(cells, series, highest);
}

/** What is wrong with volts after a run: one cell's, each cell's, or the whole pack's. */
export function landedProblem(text: string, series: number, highest: number): string | undefined {
  // of two in series, each
  const two = text.split("+");
  if (two.length === 2 && series % 2 === 0)
    return two.map((one) => landedProblem(one, series / 2, highest)).find(Boolean);
  const one = typedVolts(text, 1, highest);
  if (typeof one !== "string" && (one.cells?.[0] ?? 0) >= highest / 2) return undefined;
  const all = typedVolts(text, series, highest);
  return typeof all === "string" ? all : undefined;
}

const SUM_WITHIN = 0.02;
const LEAST_SHARE = 0.5;
const STEP_DOWN_V = 0.02;

function wordsOf(text: string, series: number): string[] {
  let line = text.normalize("NFKC").toLowerCase();
  const count = new RegExp(`(?<![\\d.,])${series} ?s(?![a-z\\d])`, "g");
  for (const noise of [count, LABEL, UNIT, FILLING, BETWEEN]) line = line.replace(noise, " ");
  // a comma before a blank stands between two cells
  line = line.replace(/,(?=\s|$)/g, " ").trim();
  const words = line.split(/[\s;/]+/).filter(Boolean);
  const each = words.length > 1 && words.every((word) => /^\d*[.,]?\d+$/.test(word));
  if (!each && (line.includes(".") || words.length === 1) && !/^\d{1,2},\d{1,4}$/.test(line))
    return line.split(/[\s;/,]+/).filter(Boolean);
  return words;
}

const numberOf = (word: string) => Number(word.replace(",", "."));
const isDigits = (word: string) => /^\d+$/.test(word);
const plain = (value: number) => String(Number(value.toPrecision(6)));

/** Three digits are hundredths of a cell's volts, four are thousandths. */
function cellOf(word: string): number {
  if (!isDigits(word) || word.length < 3) return numberOf(word);
  return Number(word) / (word.length === 3 ? 100 : 1000);
}

function wholeOf(word: string, series: number, highest: number): TypedVolts | string {
  const typed = numberOf(word);
  const most = series * highest;
  const could = isDigits(word) ? [1, 10, 100, 1000].map((by) => typed / by) : [typed];
  const pack = could.find((v) => highest < v && v <= most);
  if (pack !== undefined) return { pack };
  if (typed <= highest || could.some((v) => highest / 2 < v && v <= highest)) {
    const one = plain(Math.min(typed, cellOf(word)));
    return `${one} V is one cell’s, and the pack has ${series}. Type every cell, or the volts of all.`;
  }
  return `${series} cells do not read ${plain(typed)} V together: up to ${most.toFixed(1)} V is possible.`;
}

function stepsOf(words: readonly string[], series: number, highest: number): number[] | undefined {
  for (const by of words.every(isDigits) ? [100, 1000] : [1]) {
    let totals = words.map((w) => numberOf(w) / by);
    if (totals.length === series) totals = [0, ...totals];
    const least = LEAST_SHARE * series * highest;
    if (totals.length !== series + 1 || totals[0] !== 0 || (totals.at(-1) ?? 0) < least) continue;
    const cells = totals.slice(1).map((v, k) => v - (totals[k] ?? 0));
    if (cells.every((v) => -STEP_DOWN_V <= v && v <= highest) && (cells[0] ?? 0) > 0)
      return cells.map((v) => Math.round(1000 * Math.max(v, 0.001)) / 1000);
  }
  return undefined;
}

function bothOf(words: readonly string[], highest: number): number[] | string | undefined {
  for (const [total = "", cells] of [
    [words.at(-1), words.slice(0, -1)],
    [words[0], words.slice(1)],
  ] as const) {
    const volts = cells.map(cellOf);
    if (!volts.every((v) => v <= highest)) continue;
    const sum = volts.reduce((a, b) => a + b, 0);
    const [whole = 0] = [1, 10, 100, 1000]
      .map((by) => numberOf(total) / by)
      .sort((a, b) => Math.abs(a - sum) - Math.abs(b - sum));
    if (Math.abs(whole - sum) <= SUM_WITHIN * whole) return volts;
    if (highest < whole && whole <= volts.length * highest)
      return `The cells make ${sum.toFixed(2)} V together, not ${plain(whole)} V: read them again.`;
  }
  return undefined;
}

function refused(cells: readonly number[], series: number, highest: number): string {
  const read = cells.length;
  if (read !== series) {
    const said =
      `The pack has ${series} cell${series > 1 ? "s" : ""} in series; ` +
      `${read} reading${read === 1 ? " was" : "s were"} given.`;
    return series > 1 ? `${said} Type every cell, or the whole pack’s volts alone.` : said;
  }
  const high = cells.find((v) => v > highest) ?? 0;
  const meant = high / 10 > highest / 2 && high / 10 <= highest ? ` Did you mean ${plain(high / 10)}?` : "";
  const range = `from 0 to ${highest.toFixed(2)} V is possible.`;
  return `A cell of this pack does not read ${plain(high)} V: ${range}${meant}`;
}
