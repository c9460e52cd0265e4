/**
 * Cells as typed, in volts: "3.82 3.83", "3,82, 3,83", "3.82V 3.83V", "382 383", "3820 3830"; or what is
 * wrong. Core reads them by the same rules, and is asked wherever there is a line.
 */
export function typedCells(text: string): number[] | string {
  let line = text
    .normalize("NFKC")
    .toLowerCase()
    // units say nothing here, and a comma before a blank stands between two cells
    .replace(/(?<=[\d.,]) ?v(?:olts?)?(?![a-z])/g, " ")
    .replace(/,(?=\s|$)/g, " ")
    .trim();
  const apart = line.split(/[\s;/]+/);
  const each = apart.length > 1 && apart.every((word) => /^\d*[.,]?\d+$/.test(word));
  if (!each && (line.includes(".") || apart.length === 1) && !/^\d,\d+$/.test(line))
    line = line.replaceAll(",", " ");
  const volts: number[] = [];
  for (const word of line.split(/[\s;/]+/).filter(Boolean)) {
    const typed = typedVolts(word);
    if (typed === undefined)
      return `“${word.slice(0, 20)}” is no cell’s voltage. Type each cell, like 3.82 3.83 3.79.`;
    volts.push(typed);
  }
  return volts;
}

const HIGHEST_TYPED_V = 5;

function typedVolts(word: string): number | undefined {
  if (/^\d{3}$/.test(word)) return Number(word) / 100;
  if (/^\d{4}$/.test(word)) return Number(word) / 1000;
  if (!/^(\d{1,2}([.,]\d{0,4})?|[.,]\d{1,4})$/.test(word)) return undefined;
  const volts = Number(word.replace(",", "."));
  return volts > HIGHEST_TYPED_V ? undefined : volts;
}
