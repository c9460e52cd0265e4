import { expect, it } from "vitest";
import { STANDARD } from "@/format/preferences";
import { inWords } from "@/format/sentence";

const M = "\u2060";
const THEIRS = { ...STANDARD, mass: "oz", length: "in", temperature: "F" } as const;

it.each([
  [
    `Pack off the bay’s middle: 14.6 mm${M} of at most 10 mm${M}, 146 %.`,
    "0.57 in of at most 0.39 in, 146 %",
  ],
  [`within 420 g${M}`, "within 14.8 oz"],
  [`Up to 31 °C${M}: warmer than the 5 to 25 °C${M} in which`, "Up to 88 °F: warmer than the 41 to 77 °F"],
  [`−5 °C${M}: frost`, "23 °F: frost"],
  [`18 °C${M}${M} over the air, at most 60 °C${M}${M}`, "32 °F over the air, at most 108 °F"],
  [`at most 174 × 46 × 36 mm${M}, XT60`, "at most 6.85 × 1.81 × 1.42 in, XT60"],
  [`must be from 0.5 to 20000 g${M}, not 30000 g${M}.`, "from 0.02 to 705.5 oz, not 1058.2 oz."],
])("%s", (said, read) => {
  expect(inWords(said, THEIRS)).toContain(read);
});

it("leaves figures as they were said where the unit is the reader's, and takes the marks away", () => {
  expect(inWords(`13.25 mm${M} and 420 g${M}, 30 °C${M}${M} warmer`, STANDARD)).toBe(
    "13.25 mm and 420 g, 30 °C warmer",
  );
});

it("leaves alone what no sentence of ours marked: names and notes", () => {
  expect(inWords("Fat pack, 350 g, 20 mm", THEIRS)).toBe("Fat pack, 350 g, 20 mm");
});

it("leaves a figure that is still to come its mark", () => {
  const template = `At {} °C${M} its resistance is high`;
  expect(inWords(inWords(template, THEIRS).replace("{}", "8"), THEIRS)).toBe(
    "At 46 °F its resistance is high",
  );
});
