import { expect, it } from "vitest";
import { readTyped, type Unit } from "@/format/typed";
import cases from "../../../tests/data/typed.json";

type Wanted = number | number[] | string;

it.each(cases as [Unit, string, string, Wanted][])(
  "%s %s “%s” is %j, as core reads it",
  (unit, bare, text, wanted) => {
    const found = readTyped(text, unit, bare);
    if (typeof wanted === "string") {
      expect(found).toEqual({ problem: expect.stringContaining(wanted) });
    } else if (Array.isArray(wanted)) {
      const { couldBe = [] } = found as { couldBe?: number[] };
      expect([...couldBe].sort()).toEqual([...wanted].sort());
    } else {
      expect((found as { value: number }).value).toBeCloseTo(wanted, 6);
    }
  },
);
