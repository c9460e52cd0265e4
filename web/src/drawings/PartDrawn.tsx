import type { Wiring, WiringPart } from "@/api/types";
import { Bolt, overWires } from "@/drawings/marks";
import { APART, beside, linesOf, type PlacedPart, type PlacedPlug, type Point } from "@/drawings/wiring";
import { usePreferences } from "@/format/preferences";
import { loadingText, worded } from "@/format/quantity";
import { heat } from "@/parts/heat";

type Props = PlacedPart & {
  plugs: Map<string, PlacedPlug>;
  load: Wiring["loads"][number] | undefined;
  toGet: boolean;
  small?: boolean;
  /** Plugs that are in each other; the others hang loose. */
  met?: ReadonlySet<string>;
  live?: readonly string[];
};

/** A thing on the bench: its name, its cells or the wires within, its loose plugs. */
export function PartDrawn({
  part,
  x,
  y,
  width,
  height,
  plugs,
  load,
  toGet,
  small = false,
  met,
  live = [],
}: Props) {
  const p = usePreferences();
  const own = part.plugs.flatMap((plug) => plugs.get(plug.id) ?? []);
  const wires = [
    part.awg !== null && part.kind !== "pack" ? worded("gauge", part.awg, p) : "",
    load?.loading == null ? "" : loadingText(load.loading),
  ].filter(Boolean);
  return (
    <g>
      <rect
        x={x}
        y={y}
        width={width}
        height={height}
        rx="2"
        fill="var(--sheet)"
        stroke={toGet ? "var(--ink-faint)" : "var(--ink)"}
        strokeDasharray={toGet ? "4 3" : undefined}
      />
      {load?.loading != null && (
        <rect
          x={x}
          y={y}
          width="4"
          height={height}
          fill={heat(load.loading)}
          stroke="var(--ink)"
          strokeWidth="0.5"
        />
      )}
      {part.cells > 0 && (
        <Cells part={part} x={x} y={y} width={width} height={height} small={small} own={own} />
      )}
      {part.inner.map((w) => (
        <Inner
          key={`${w.from_plug} ${w.from_pole} ${w.to_plug} ${w.to_pole}`}
          wire={w}
          plugs={plugs}
          box={{ x, y, width, height }}
          small={small}
        />
      ))}
      {small ? (
        <SmallName part={part} x={x} y={y} width={width} height={height} />
      ) : (
        <>
          <Words text={part.name} x={x + 9} y={y + 14} width={width - 14} strong />
          <text x={x + 9} y={y + height - 6} className="tick" style={OVER_WIRES}>
            {[toGet ? "to get" : "", ...wires].filter(Boolean).join(", ") || part.detail}
          </text>
        </>
      )}
      {met &&
        own
          .filter((o) => !met.has(o.plug.id))
          .map((o) => <Loose key={o.plug.id} placed={o} live={live.includes(o.plug.id)} />)}
    </g>
  );
}

type BoxProps = { part: WiringPart; x: number; y: number; width: number; height: number };

/** A letter of what it is, where there is no room for its name. */
function SmallName({ part, x, y, width, height }: BoxProps) {
  if (part.kind === "pack") return null;
  const words: Partial<Record<WiringPart["kind"], string>> = {
    charger: "charger",
    model: "model",
    board: "board",
    piece: "lead",
    series_lead: "series",
    parallel_lead: "parallel",
  };
  return (
    <text x={x + width / 2} y={y + height - 3} textAnchor="middle" style={{ fontSize: 9 }}>
      {words[part.kind]}
    </text>
  );
}

const MOST_PLATES = 14;

/** Plates in series, plus on top; the wires of both ends to the main plug. */
function Cells({ part, x, y, width, height, small, own }: BoxProps & { small: boolean; own: PlacedPlug[] }) {
  const main = own.find((o) => o.plug.what === "main");
  const left = main?.plug.side === "left";
  const cells = Math.min(part.cells, MOST_PLATES);
  const strings = Math.min(part.strings ?? 1, MOST_PLATES);
  const named = small ? 0 : 12 * (linesOf(part.name, width - 14).length - 1);
  const top = y + (small ? 4 : 22) + named;
  const room = height - (small ? 8 : 38) - named;
  const each = Math.min(room / cells, 8);
  const plateWidth = small ? width * 0.55 : width * 0.5;
  const at = left ? x + width - plateWidth - 6 : x + 8;
  const end = left ? at : at + plateWidth;
  const bottom = top + each * cells;
  const apart = small ? 1.5 : APART;
  return (
    <>
      {Array.from({ length: cells }, (_, i) => top + i * each).map((plate) =>
        Array.from({ length: strings }, (_, j) => at + (j * plateWidth) / strings).map((from) => (
          <rect
            key={`${plate} ${from}`}
            x={from}
            y={plate}
            width={plateWidth / strings - (strings > 1 ? 1.5 : 0)}
            height={Math.max(each - 1.2, 1)}
            fill="var(--hollow)"
            stroke="var(--rule-strong)"
            strokeWidth="0.75"
          />
        )),
      )}
      {main && (
        <>
          <path
            d={`M${end} ${top + 1} L${main.at.x} ${main.at.y + beside("plus", main.plug, apart)}`}
            stroke="var(--ink)"
            strokeWidth={small ? 1.5 : 2}
            fill="none"
          />
          <path
            d={`M${end} ${bottom - 1} L${main.at.x} ${main.at.y + beside("minus", main.plug, apart)}`}
            stroke="var(--ink)"
            strokeWidth={small ? 1 : 1.25}
            fill="none"
          />
        </>
      )}
      {!small && (
        <text
          x={left ? at + plateWidth + 0 : at}
          y={top - 2}
          textAnchor={left ? "end" : "start"}
          style={{ fontSize: 9 }}
        >
          +
        </text>
      )}
    </>
  );
}

type InnerProps = {
  wire: WiringPart["inner"][number];
  plugs: Map<string, PlacedPlug>;
  box: { x: number; y: number; width: number; height: number };
  small: boolean;
};

/** One wire within a part, from contact to contact; between two plugs of one side it turns back inside. */
function Inner({ wire, plugs, box, small }: InnerProps) {
  const [a, b] = [plugs.get(wire.from_plug), plugs.get(wire.to_plug)];
  if (!a || !b) return null;
  const apart = small ? 1.5 : APART;
  const [from, to] = [
    shifted(a, beside(wire.from_pole, a.plug, apart)),
    shifted(b, beside(wire.to_pole, b.plug, apart)),
  ];
  const middle = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  const inward = (o: PlacedPlug, at: Point) =>
    o.out.x === o.at.x ? { x: at.x, y: middle.y } : { x: middle.x, y: at.y };
  const [c, d] = [inward(a, from), inward(b, to)];
  const width = wire.thin ? 0.6 : wire.from_pole === "plus" ? 2 : 1.25;
  return (
    <path
      d={`M${from.x} ${from.y} C${c.x} ${c.y} ${d.x} ${d.y} ${to.x} ${to.y}`}
      fill="none"
      stroke={wire.thin ? "var(--ink-faint)" : "var(--ink)"}
      strokeWidth={small ? width * 0.75 : width}
    />
  );
}

function shifted(o: PlacedPlug, by: number): Point {
  return o.out.x === o.at.x ? { x: o.at.x + by, y: o.at.y } : { x: o.at.x, y: o.at.y + by };
}

/** A plug that hangs loose; with a bolt where there are volts on it. */
function Loose({ placed, live }: { placed: PlacedPlug; live: boolean }) {
  const { at, out, plug } = placed;
  const sign = Math.sign(out.x - at.x) || 1;
  const main = plug.what === "main";
  const [long, wide] = main ? [7, 8] : [5, 6];
  return (
    <g>
      <path d={`M${at.x} ${at.y} h${sign * 4}`} stroke="var(--ink)" />
      <rect
        x={sign > 0 ? at.x + 4 : at.x - 4 - long}
        y={at.y - wide / 2}
        width={long}
        height={wide}
        fill={live ? "var(--ink)" : "var(--ground)"}
        stroke="var(--ink)"
      />
      {live && <Bolt x={at.x + sign * (8 + long)} y={at.y} title={`${plug.name}: live`} />}
    </g>
  );
}

const OVER_WIRES = overWires("var(--sheet)");

/** A name in up to two lines. */
function Words({
  text,
  x,
  y,
  width,
  strong,
}: {
  text: string;
  x: number;
  y: number;
  width: number;
  strong: boolean;
}) {
  return (
    <text x={x} y={y} style={strong ? { ...OVER_WIRES, fill: "var(--ink)", fontWeight: 600 } : OVER_WIRES}>
      <title>{text}</title>
      {linesOf(text, width).map((line, i) => (
        <tspan key={line} x={x} dy={i === 0 ? 0 : 12}>
          {line}
        </tspan>
      ))}
    </text>
  );
}
