import type { Plugged, WiringPart, WiringPlug } from "@/api/types";

export type Point = { x: number; y: number };
export type PlacedPlug = { plug: WiringPlug; part: WiringPart; at: Point; out: Point };
export type PlacedPart = { part: WiringPart; x: number; y: number; width: number; height: number };
export type Placed = {
  width: number;
  height: number;
  parts: PlacedPart[];
  plugs: Map<string, PlacedPlug>;
  /** From where to where two plugs meet, with the middle; `lane` where it goes round below the others. */
  pairs: { pair: Plugged; a: PlacedPlug; b: PlacedPlug; meet: Point; lane: number | null }[];
  down: boolean;
};

/** How large everything is: across a bench or down a phone, and small in a strip of steps. */
type Sizes = {
  part: number;
  gap: number;
  plug: number;
  least: number;
  head: number;
  lane: number;
  margin: number;
  /** Above and below. */
  edge: number;
  /** From a part to where a plug of it hangs. */
  out: number;
};
const LARGE: Sizes = {
  part: 124,
  gap: 92,
  plug: 30,
  least: 64,
  head: 34,
  lane: 18,
  margin: 4,
  edge: 4,
  out: 38,
};
/** With room for what hangs loose at both ends. */
const SMALL: Sizes = {
  part: 46,
  gap: 40,
  plug: 15,
  least: 30,
  head: 8,
  lane: 9,
  margin: 18,
  edge: 3,
  out: 22,
};
const DOWN_PART = 66;
const DOWN_GAP = 58;

/** Parts in columns from where the current comes from to where it goes; one above the other where there is no
 * room for that. */
export function placed(parts: WiringPart[], joined: Plugged[], width: number, small: boolean): Placed {
  const columns = [...new Set(parts.map((p) => p.column))].sort((a, b) => a - b);
  const z = small ? SMALL : LARGE;
  const across = columns.length * z.part + (columns.length - 1) * z.gap;
  const down = !small && across + 2 * z.margin > width;
  const gap = down
    ? DOWN_GAP
    : small
      ? z.gap
      : Math.min(
          z.gap * 1.7,
          (width - 2 * z.margin - columns.length * z.part) / Math.max(1, columns.length - 1),
        );
  const rows = columns.map((c) => parts.filter((p) => p.column === c).sort((a, b) => a.row - b.row));
  const size = (p: WiringPart) => Math.max(z.least, z.head + z.plug * most(p));
  const tall = (column: WiringPart[]) => column.reduce((sum, p) => sum + size(p) + 12, -12);
  const height = Math.max(...rows.map(tall));
  const boxes: PlacedPart[] = rows.flatMap((column, c) => {
    if (down) {
      const each = (width - 2 * z.margin - 10 * (column.length - 1)) / column.length;
      return column.map((part, i) => ({
        part,
        x: z.margin + i * (each + 10),
        y: z.edge + c * (DOWN_PART + gap),
        width: each,
        height: DOWN_PART,
      }));
    }
    let y = z.edge + (height - tall(column)) / 2;
    return column.map((part) => {
      const box = { part, x: z.margin + c * (z.part + gap), y, width: z.part, height: size(part) };
      y += box.height + 12;
      return box;
    });
  });
  const plugs = new Map(boxes.flatMap((box) => anchors(box, down, z).map((p) => [p.plug.id, p])));
  let lanes = 0;
  const floor = Math.max(...boxes.map((b) => b.y + b.height));
  const columnOf = (p: PlacedPlug) => columns.indexOf(p.part.column);
  const goesRound = ({ a, b }: Plugged) => {
    const [from, to] = [plugs.get(a), plugs.get(b)];
    return from && to && Math.abs(columnOf(to) - columnOf(from)) > 1 ? to.part.column : undefined;
  };
  // into these what goes round comes up beside what goes straight
  const shared = new Set(joined.map(goesRound));
  const pairs = joined.flatMap((pair) => {
    const [a, b] = [plugs.get(pair.a), plugs.get(pair.b)];
    if (!a || !b) return [];
    const round = goesRound(pair) !== undefined;
    if (round) lanes += 1;
    const lane = round ? (down ? lanes : floor + lanes * z.lane) : null;
    const along = shared.has(b.part.column) && !down && !small ? 0.3 : 0.5;
    const between = { x: a.at.x + along * (b.at.x - a.at.x), y: a.at.y + along * (b.at.y - a.at.y) };
    const meet = round ? b.out : between;
    return [{ pair, a, b, meet, lane }];
  });
  return {
    width: down ? width : 2 * z.margin + columns.length * z.part + (columns.length - 1) * gap,
    height: down
      ? 2 * z.edge + columns.length * DOWN_PART + (columns.length - 1) * gap
      : floor + z.edge + (lanes ? lanes * z.lane + 8 : 0),
    parts: boxes,
    plugs,
    pairs,
    down,
  };
}

const sideOf = (p: WiringPart, side: string) => p.plugs.filter((x) => x.side === side);
const most = (p: WiringPart) => Math.max(sideOf(p, "left").length, sideOf(p, "right").length);

/** Where the plugs of a part stand on its edge, and where they point to. */
function anchors(box: PlacedPart, down: boolean, { head, out }: Sizes): PlacedPlug[] {
  return (["left", "right"] as const).flatMap((side) => {
    const plugs = sideOf(box.part, side);
    return plugs.map((plug, i) => {
      const share = (i + 0.5) / plugs.length;
      const sign = side === "left" ? -1 : 1;
      if (down) {
        const x = box.x + box.width * share;
        const y = side === "left" ? box.y : box.y + box.height;
        return { plug, part: box.part, at: { x, y }, out: { x, y: y + sign * 22 } };
      }
      const x = side === "left" ? box.x : box.x + box.width;
      const y = box.y + head / 2 + (box.height - head / 2) * share;
      return {
        plug,
        part: box.part,
        at: { x, y },
        out: { x: x + sign * out, y },
      };
    });
  });
}

/** Half of what lies between plus and minus, px. */
export const APART = 3.5;

/** How far the wire of a pole lies beside the middle of its plug, in px: plus first. */
export function beside(pole: string, { poles, what }: WiringPlug, apart: number): number {
  const step = what !== "balance" ? 2 * apart : Math.min(2.2, 14 / poles.length);
  return (poles.indexOf(pole) - (poles.length - 1) / 2) * step;
}

/** A name cut to so many px, in up to two lines. */
export function linesOf(text: string, width: number): string[] {
  const most = Math.floor(width / 6);
  const lines: string[] = [];
  for (const word of text.split(" ")) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + 1 + word.length <= most)
      lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines.length > 2 ? [lines[0] ?? "", `${lines[1]}…`] : lines;
}
