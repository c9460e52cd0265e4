import type { Plugged, Wiring } from "@/api/types";
import { overWires } from "@/drawings/marks";
import { APART, beside, type PlacedPlug, type Point } from "@/drawings/wiring";
import { usePreferences } from "@/format/preferences";
import { loadingText, worded } from "@/format/quantity";
import { heat } from "@/parts/heat";

type Props = {
  pair: Plugged;
  a: PlacedPlug;
  b: PlacedPlug;
  meet: Point;
  lane: number | null;
  load: Wiring["loads"][number] | undefined;
  down: boolean;
  small?: boolean;
};

const OVER_WIRES = overWires("var(--ground)");

/** Two plugs in each other, with the wires of every pole on to both parts. */
export function PairDrawn({ pair, a, b, meet, lane, load, down, small = false }: Props) {
  const p = usePreferences();
  const main = a.plug.what !== "balance";
  const apart = small ? 1.5 : APART;
  // down a phone what goes round comes from the right, and its words stand left of it
  const left = down && lane !== null;
  const beyond = down ? (left ? -14 : 14) : 0;
  const anchor = down ? (left ? "end" : "start") : "middle";
  const colour = load?.loading == null ? "var(--ink)" : heat(load.loading);
  return (
    <g>
      {a.plug.poles.map((pole) => {
        const other = pair.crossed ? crossed(pole) : pole;
        const from = beside(pole, a.plug, apart);
        const to = beside(other, b.plug, apart);
        const d =
          lane === null
            ? straight(a.at, meet, b.at, from, to, down)
            : round(a, b, lane, from, to, down, small ? 8 : 24);
        const width = main ? (pole === "plus" ? 2 : 1.25) : 0.6;
        return (
          <path
            key={pole}
            d={d}
            fill="none"
            stroke={main ? "var(--ink)" : "var(--ink-faint)"}
            strokeWidth={small ? width * 0.75 : width}
          />
        );
      })}
      <PlugPair
        at={meet}
        pack={a.plug.half === "pack" ? "a" : "b"}
        colour={colour}
        main={main}
        down={down}
        small={small}
        assumed={a.plug.assumed || b.plug.assumed}
      />
      {!small && main && <Signs at={meet} down={down} crossed={pair.crossed} />}
      {!small && (
        <text x={meet.x + beyond} y={meet.y - (down ? 2 : 13)} textAnchor={anchor} style={OVER_WIRES}>
          {a.plug.assumed || b.plug.assumed ? "assumed " : ""}
          {a.plug.name === b.plug.name ? a.plug.name : `${a.plug.name} in ${b.plug.name}`}
        </text>
      )}
      {!small && load && load.loading != null && (
        <text
          className="tick"
          x={meet.x + beyond}
          y={meet.y + (down ? 11 : 22)}
          textAnchor={anchor}
          style={OVER_WIRES}
        >
          {`${worded("amps_set", load.current_a, p)}, ${loadingText(load.loading)}`}
        </text>
      )}
    </g>
  );
}

/** Which of the two wires is plus, on both sides of the plugs. */
function Signs({ at, down, crossed }: { at: Point; down: boolean; crossed: boolean }) {
  const away = 21;
  return [-1, 1].map((side) =>
    [-1, 1].map((line) => {
      const plus = line < 0 !== (crossed && side > 0);
      const across = line < 0 ? -6 : 11;
      return (
        <text
          key={`${side} ${line}`}
          x={at.x + (down ? (line < 0 ? -9 : 9) : side * away)}
          y={at.y + (down ? side * away + 4 : across)}
          textAnchor="middle"
          style={{ fill: "var(--ink)", fontWeight: 600, fontSize: 11 }}
        >
          {plus ? "+" : "−"}
        </text>
      );
    }),
  );
}

const crossed = (pole: string) => (pole === "plus" ? "minus" : pole === "minus" ? "plus" : pole);

function straight(a: Point, meet: Point, b: Point, from: number, to: number, down: boolean): string {
  if (down) return `M${a.x + from} ${a.y} L${meet.x + from} ${meet.y} L${b.x + to} ${b.y}`;
  // what is crossed is seen to cross, before the plugs
  return `M${a.x} ${a.y + from} L${meet.x - 8} ${meet.y + to} H${meet.x + 8} L${b.x} ${b.y + to}`;
}

/** Below the parts between them; on a phone along their right edge. */
function round(
  a: PlacedPlug,
  b: PlacedPlug,
  lane: number,
  from: number,
  to: number,
  down: boolean,
  clear: number,
): string {
  if (down) {
    const x = Math.max(a.at.x, b.at.x) + 14 + 10 * lane;
    const begin = `M${a.at.x + from} ${a.at.y} L${a.out.x + from} ${a.out.y + from}`;
    return `${begin} H${x + from} V${b.out.y + to} H${b.at.x + to} V${b.at.y}`;
  }
  const begin = `M${a.at.x} ${a.at.y + from} H${a.out.x - from} V${lane + from}`;
  return `${begin} H${b.out.x - clear - to} V${b.at.y + to} H${b.at.x}`;
}

type PairProps = {
  at: Point;
  pack: "a" | "b";
  colour: string;
  main: boolean;
  down: boolean;
  small: boolean;
  assumed: boolean;
};

/** Both halves: that of packs closed about its contacts, the other with its pins in it. */
function PlugPair({ at, pack, colour, main, down, small, assumed }: PairProps) {
  const [long, wide] = main ? (small ? [6, 7] : [11, 15]) : small ? [4, 5] : [6, 11];
  const turn = `${down ? "rotate(90)" : ""}${pack === "b" ? " scale(-1 1)" : ""}`;
  return (
    <g transform={`translate(${at.x} ${at.y}) ${turn}`}>
      <rect
        x={-long}
        y={-wide / 2}
        width={long}
        height={wide}
        fill={colour}
        stroke="var(--ink)"
        strokeWidth="1"
        strokeDasharray={assumed ? "2 2" : undefined}
      />
      <path
        d={`M0 ${-wide / 2} h${long} v${wide} h${-long}`}
        fill="var(--ground)"
        stroke="var(--ink)"
        strokeWidth="1"
        strokeDasharray={assumed ? "2 2" : undefined}
      />
      {!small && main && (
        <path d={`M0 -3 h${long - 4} M0 3 h${long - 4}`} stroke="var(--ink)" strokeWidth="1.5" />
      )}
    </g>
  );
}
