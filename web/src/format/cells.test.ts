import { expect, it } from "vitest";
import { typedCells } from "@/format/cells";
import cases from "../../../tests/data/cells.json";

it.each(cases as [string, number[] | string][])("“%s” is %j, as core reads it", (text, wanted) => {
  const found = typedCells(text);
  if (typeof wanted === "string") expect(found).toContain(wanted);
  else expect(found).toEqual(wanted);
});
