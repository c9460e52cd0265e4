import type { Soldering, SolderStep } from "@/api/types";
import { Drawing } from "@/charts/Drawing";
import { Bolt } from "@/drawings/marks";
import { linesOf } from "@/drawings/wiring";

const WIDE = 250;
const TALL = 98;
const FROM = 62;
const PLUG = 150;
const POLES = ["plus", "minus"] as const;
type Pole = (typeof POLES)[number];
const AT: Record<Pole, number> = { plus: 38, minus: 60 };
const OLD: Record<Pole, number> = { plus: 14, minus: 32 };
const NEW: Record<Pole, number> = { plus: 64, minus: 82 };
/** Where a cut wire ends. */
const CUT = 112;

type Props = { step: SolderStep; soldering: Soldering; struck?: boolean };

/** One step at the iron: two wires, the plug that goes above, the one that comes below, what is bare. */
export function SolderPicture({ step, soldering, struck = false }: Props) {
  const left = soldering.old[step.whose] ?? "";
  const words = step.bare ? `Bare: ${step.bare}.` : "Nothing bare.";
  return (
    <>
      <Drawing
        width={WIDE}
        height={TALL}
        role="img"
        aria-label={struck ? `Struck out: ${step.sentence}` : words}
        style={{ maxWidth: "100%" }}
      >
        <rect x={4} y={22} width={FROM - 4} height={54} rx="2" fill="var(--hollow)" stroke="var(--ink)" />
        <text x={(4 + FROM) / 2} y={53} textAnchor="middle">
          {step.whose}
        </text>
        <PlugBox y={6} name={left} gone={POLES.every((p) => step[p] !== "old")} at={OLD} />
        <PlugBox y={56} name={soldering.new} gone={false} at={NEW} />
        {POLES.map((pole) => (
          <WireDrawn key={pole} pole={pole} step={step} />
        ))}
        {struck && <path d={`M2 ${TALL - 2} L${WIDE - 2} 2`} stroke="var(--alert)" strokeWidth="2.5" />}
      </Drawing>
      {!struck && <p className="mt-0.5 text-fine text-ink-faint">{words}</p>}
    </>
  );
}

type BoxProps = { y: number; name: string; gone: boolean; at: Record<Pole, number> };

function PlugBox({ y, name, gone, at }: BoxProps) {
  const lines = gone ? ["cut off"] : linesOf(name, WIDE - PLUG - 30);
  return (
    <>
      <rect
        x={PLUG}
        y={y}
        width={22}
        height={34}
        rx="2"
        fill="var(--sheet)"
        stroke={gone ? "var(--ink-faint)" : "var(--ink)"}
        strokeDasharray={gone ? "3 3" : undefined}
      />
      {POLES.map((pole) => (
        <text key={pole} x={PLUG + 11} y={at[pole] + 4} textAnchor="middle" style={{ fontWeight: 600 }}>
          {pole === "plus" ? "+" : "−"}
        </text>
      ))}
      <text y={y + 27 - 6 * lines.length} style={gone ? undefined : { fill: "var(--ink)" }}>
        {lines.map((line, i) => (
          <tspan key={line} x={PLUG + 28} dy={i === 0 ? 0 : 12}>
            {line}
          </tspan>
        ))}
      </text>
    </>
  );
}

/** One wire, from pack or model to where it ends now; what is bare and live is marked with a bolt. */
function WireDrawn({ pole, step }: { pole: Pole; step: SolderStep }) {
  const end = step[pole];
  const from = AT[pole];
  const width = pole === "plus" ? 2.5 : 1.5;
  const to = end === "old" ? OLD[pole] : NEW[pole];
  const line = { stroke: "var(--ink)", fill: "none" };
  const away = pole === "plus" ? -1 : 1;
  return (
    <>
      <text x={FROM + 6} y={from + (pole === "plus" ? -4 : 11)} style={{ fontWeight: 600 }}>
        {pole === "plus" ? "+" : "−"}
      </text>
      {end !== "old" && (
        <path d={`M${PLUG} ${OLD[pole]} h-10`} {...line} strokeWidth={width} opacity="0.45" />
      )}
      {end === "bare" ? (
        <>
          <path d={`M${FROM} ${from} H${CUT}`} {...line} strokeWidth={width} />
          <path d={`M${CUT} ${from} h9`} {...line} strokeWidth="4" />
          {step.live && <Bolt x={CUT + 18} y={from + 2 * away} />}
          {step.cut && <Cutters x={CUT + 9} y={from} down={away > 0} />}
        </>
      ) : (
        <path
          d={`M${FROM} ${from} C${FROM + 40} ${from} ${PLUG - 50} ${to} ${PLUG} ${to}`}
          {...line}
          strokeWidth={width}
        />
      )}
      {end === "new" && (
        <rect x={PLUG - 17} y={to - 3.5} width={17} height={7} rx="2" fill="var(--ink-soft)" />
      )}
      {end === "open" && (
        <>
          <circle cx={PLUG - 3} cy={to} r="4" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.5" />
          {step.live && <Bolt x={PLUG - 14} y={to + 7 * away} />}
        </>
      )}
    </>
  );
}

function Cutters({ x, y, down }: { x: number; y: number; down: boolean }) {
  const [near, far] = down ? [y - 7, y + 15] : [y + 7, y - 15];
  return (
    <path
      d={`M${x - 2} ${near} L${x + 5} ${far} M${x + 5} ${near} L${x - 2} ${far}`}
      stroke="var(--ink-soft)"
      strokeWidth="1.5"
      fill="none"
    />
  );
}
