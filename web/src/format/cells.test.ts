import { expect, it } from "vitest";
import { typedVolts } from "@/format/cells";
import cases from "../../../tests/data/cells.json";

type Case = [text: string, series: number, highest: number, wanted: number[] | number | string];

it.each(cases as Case[])("“%s” of %d cells, as core reads it", (text, series, highest, wanted) => {
  const found = typedVolts(text, series, highest);
  if (typeof wanted === "string") expect(found).toContain(wanted);
  else expect(found).toEqual(typeof wanted === "number" ? { pack: wanted } : { cells: wanted });
});
