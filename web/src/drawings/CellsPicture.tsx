import type { CellDrawn, PackDrawn } from "@/api/types";
import { Drawing } from "@/charts/Drawing";
import { useWidth } from "@/charts/useWidth";
import { bare } from "@/format/quantity";

const TALL = 74;
const TOP = 20;
const WORDS = 46;
const MOST = 78;

type Cell = Pick<CellDrawn, "number" | "volts" | "mohm" | "under_mv"> & { mark: string };

type Props = {
  cells: readonly Cell[];
  sentence: string;
  /** Between which volts a cell of it lives. */
  lowest: number;
  highest: number;
  legend: string;
  /** How far each is below the highest, where nothing says what it resists. */
  underHighest?: boolean;
};

/** Cells side by side, each as full as its volts say; one that stands out has a heavy frame and a word. */
export function CellsPicture({ cells, sentence, lowest, highest, legend, underHighest = false }: Props) {
  const [box, width] = useWidth<HTMLDivElement>(320);
  const each = Math.min(MOST, (width - 4) / Math.max(cells.length, 1));
  const height = TOP + TALL + WORDS;
  return (
    <div ref={box}>
      <Drawing width={4 + each * cells.length} height={height} role="img" aria-label={sentence}>
        {cells.map((c, i) => {
          const x = 2 + i * each;
          const full = c.volts === null ? null : level(c.volts, lowest, highest);
          const middle = x + each / 2;
          const marked = c.mark !== "";
          return (
            <g key={c.number}>
              <text x={middle} y={13} textAnchor="middle" className="tick" style={marked ? BOLD : undefined}>
                {c.number}
              </text>
              <rect
                x={x + 3}
                y={TOP}
                width={each - 6}
                height={TALL}
                rx="2"
                fill="var(--hollow)"
                stroke="var(--ink)"
                strokeWidth={marked ? 3 : 1}
                strokeDasharray={full === null ? "3 3" : undefined}
              />
              {full !== null && (
                <rect
                  x={x + 6}
                  y={TOP + 3 + (TALL - 6) * (1 - full)}
                  width={each - 12}
                  height={(TALL - 6) * full}
                  fill="var(--rule-strong)"
                />
              )}
              <text
                x={middle}
                y={TOP + TALL + 14}
                textAnchor="middle"
                className="tick"
                style={marked ? BOLD : undefined}
              >
                {c.volts === null ? "—" : bare("cell_voltage", c.volts)}
              </text>
              <text x={middle} y={TOP + TALL + 27} textAnchor="middle" className="tick">
                {c.mohm === null ? (underHighest ? under(c) : "") : bare("resistance", c.mohm)}
              </text>
              {marked && (
                <text x={middle} y={TOP + TALL + 41} textAnchor="middle" style={BOLD}>
                  {c.mark}
                </text>
              )}
            </g>
          );
        })}
      </Drawing>
      <p className="text-fine text-ink-faint">{legend}; minus on the left.</p>
    </div>
  );
}

const under = ({ under_mv }: Cell) =>
  under_mv === null || Math.round(under_mv) === 0 ? "" : `−${Math.round(under_mv)} mV`;

const BOLD = { fill: "var(--ink)", fontWeight: 700 };

/** How far up its life a cell's volts are, 0 to 1. */
function level(volts: number, lowest: number, highest: number): number {
  return Math.min(Math.max((volts - lowest) / (highest - lowest), 0.02), 1);
}

const PIN = 30;
const PLUG_TALL = 22;
const PORT_GAP = 18;

type PinsProps = {
  drawn: PackDrawn;
  /** The one that charges it; all that could, where none is named. */
  charger?: string | undefined;
};

/** The balance plug from the front: each pin, its number, what a multimeter shows from the first one on;
 * below it the chargers’ ports that it goes into, pin under pin. */
export function PinsPicture({ drawn, charger }: PinsProps) {
  const [box, width] = useWidth<HTMLDivElement>(320);
  if (drawn.pins.length === 0) return null;
  const ports = drawn.ports
    .filter((x) => charger === undefined || x.charger === charger)
    .slice(0, MOST_PORTS);
  const most = Math.max(drawn.pins.length, ...ports.map((x) => x.pins));
  const each = Math.min(PIN + 14, (width - 4) / most);
  const read = drawn.pins.some((p) => p.volts !== null);
  const words = drawn.pins
    .map((p) => `pin ${p.number}, ${p.name}${p.volts === null ? "" : `: ${bare("voltage", p.volts)} V`}`)
    .join("; ");
  return (
    <div ref={box}>
      <Drawing
        width={4 + each * most}
        height={58 + ports.length * (PLUG_TALL + PORT_GAP)}
        role="img"
        aria-label={`${drawn.balance} plug: ${words}`}
      >
        <rect
          x={2}
          y={18}
          width={each * drawn.pins.length}
          height={PLUG_TALL}
          rx="1"
          fill="var(--sheet)"
          stroke="var(--ink)"
        />
        {drawn.pins.map((p, i) => {
          const middle = 2 + (i + 0.5) * each;
          return (
            <g key={p.number}>
              <text x={middle} y={12} textAnchor="middle" className="tick">
                {p.number}
              </text>
              <rect x={middle - 3.5} y={25} width={7} height={8} fill="var(--ink)" />
              <text x={middle} y={53} textAnchor="middle" className="tick">
                {p.volts === null ? "" : bare("voltage", p.volts)}
              </text>
            </g>
          );
        })}
        {ports.map((port, i) => (
          <Port key={port.charger} port={port} y={60 + i * (PLUG_TALL + PORT_GAP)} each={each} />
        ))}
      </Drawing>
      <p className="text-fine text-ink-faint">
        {drawn.balance}: pin 1 is minus{read ? "; volts from pin 1 on, as a multimeter reads them now" : ""}.
        Never let the probes touch each other.
      </p>
      {ports.map((port) => (
        <p key={port.charger} className="text-fine text-ink-faint">
          {port.sentence}
        </p>
      ))}
    </div>
  );
}

const MOST_PORTS = 2;

/** A charger’s port: pins that this plug takes are filled, those beyond it empty. */
function Port({ port, y, each }: { port: PackDrawn["ports"][number]; y: number; each: number }) {
  return (
    <>
      <text x={2} y={y + 9}>
        {port.charger}
      </text>
      <rect
        x={2}
        y={y + 13}
        width={each * port.pins}
        height={PLUG_TALL - 4}
        rx="1"
        fill="none"
        stroke="var(--ink)"
      />
      {Array.from({ length: port.pins }, (_, k) => 2 + (k + 0.5) * each).map((middle, k) => (
        <rect
          key={middle}
          x={middle - 3.5}
          y={y + 18}
          width={7}
          height={8}
          fill={k < port.used ? "var(--ink)" : "none"}
          stroke="var(--ink-faint)"
        />
      ))}
    </>
  );
}
