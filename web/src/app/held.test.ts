import { expect, it } from "vitest";
import { flag, number, oneOf, text, texts } from "@/app/held";

const odd = [undefined, null, {}, [], () => 1];

it("takes what is meant, and nothing else", () => {
  expect([text("05"), text(5), text(true), flag(false), flag("false")]).toEqual([
    "05",
    "5",
    undefined,
    false,
    undefined,
  ]);
  expect([number(1, 1, 16), number(16, 1, 16), number(0, 1, 16), number(17, 1, 16), number("3")]).toEqual([
    1,
    16,
    undefined,
    undefined,
    undefined,
  ]);
  expect([oneOf("dc", ["mains", "dc"]), oneOf("ac", ["mains", "dc"])]).toEqual(["dc", undefined]);
  for (const one of odd)
    expect([text(one), flag(one), number(one)]).toEqual([undefined, undefined, undefined]);
});

it("takes a list whole or not at all", () => {
  expect(texts(["a", 7], 4)).toEqual(["a", "7"]);
  expect(texts([], 4)).toEqual([]);
  for (const wrong of ["a", ["a", null], ["a", {}], ["1", "2", "3", "4", "5"]])
    expect(texts(wrong, 4)).toBeUndefined();
});
