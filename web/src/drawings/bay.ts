import type { BayBox, BayDrawn } from "@/api/types";

export type Scaled = {
  /** px of a place along the model, and of a length. */
  x: (mm: number) => number;
  long: (mm: number) => number;
  /** Tops of the two views and of the line of balance, and the height of all. */
  side: number;
  above: number;
  line: number;
  height: number;
  tall: number;
  wide: number;
};

const EDGE = 10;
const TITLE = 15;
const LINE = 34;
/** No larger than this: a bay of a small model need not fill a screen. */
const MOST_PX_PER_MM = 3;
const TALLEST = 300;

/** Both views to one scale: what is twice as long is drawn twice as long. */
export function scaled(bays: readonly BayDrawn[], width: number): Scaled {
  const boxes = bays.flatMap((d) => [d.bay.box, ...d.packs, ...(d.leads ? [d.leads] : [])]);
  const places = bays.flatMap((d) => [
    ...(d.balance ? [d.balance.at_mm, d.balance.wanted_mm] : []),
    ...(d.wanted_mm === null ? [] : [d.wanted_mm]),
  ]);
  const start = Math.min(...boxes.map((b) => b.along_mm), ...places);
  const end = Math.max(...boxes.map((b) => b.along_mm + b.length_mm), ...places);
  const tall = Math.max(...boxes.map((b) => b.up_mm + b.height_mm));
  const left = Math.min(...boxes.map((b) => b.across_mm));
  const wide = Math.max(...boxes.map((b) => b.across_mm + b.width_mm)) - left;
  const k = Math.min((width - 2 * EDGE) / (end - start || 1), MOST_PX_PER_MM, TALLEST / (tall + wide || 1));
  const balanced = bays.some((d) => d.balance);
  const above = TITLE + k * tall + TITLE + 8;
  const line = above + k * wide + 10;
  return {
    x: (mm) => EDGE + k * (mm - start),
    long: (mm) => k * mm,
    side: TITLE,
    above: above - k * left,
    line,
    height: line + (balanced ? LINE : 0),
    tall: k * tall,
    wide: k * wide,
  };
}

export type Rect = { x: number; y: number; width: number; height: number };

/** A box seen from the side: up is up. */
export function fromTheSide(b: BayBox, s: Scaled): Rect {
  return {
    x: s.x(b.along_mm),
    y: s.side + s.tall - s.long(b.up_mm + b.height_mm),
    width: s.long(b.length_mm),
    height: s.long(b.height_mm),
  };
}

/** A box seen from above: its right side is below. */
export function fromAbove(b: BayBox, s: Scaled): Rect {
  return {
    x: s.x(b.along_mm),
    y: s.above + s.long(b.across_mm),
    width: s.long(b.length_mm),
    height: s.long(b.width_mm),
  };
}
