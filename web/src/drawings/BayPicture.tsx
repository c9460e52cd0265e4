import type { KeyboardEvent, PointerEvent } from "react";
import { useId, useRef } from "react";
import type { BayBox, BayDrawn } from "@/api/types";
import { Drawing, placeIn } from "@/charts/Drawing";
import { useWidth } from "@/charts/useWidth";
import { fromAbove, fromTheSide, type Rect, type Scaled, scaled } from "@/drawings/bay";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";

type Props = {
  bays: readonly BayDrawn[];
  /** Of several, how each is outlined. */
  dashes?: readonly (string | undefined)[];
  /** Where the first is dragged to, before the answer for that place is there. */
  at?: number | undefined;
  onMove?: ((at: number) => void) | undefined;
};

/** The bay from the side and from above, to scale; the pack in it can be slid. */
export function BayPicture({ bays, dashes = [], at, onMove }: Props) {
  const [box, width] = useWidth<HTMLDivElement>(300);
  const hatch = useId();
  const first = bays[0];
  // of what nobody measured there is none
  if (!first || bays.every((d) => d.packs.length === 0 && d.bay.measured.length === 0)) return null;
  const s = scaled(bays, width);
  const views = [
    { name: "from the side", y: s.side, of: fromTheSide },
    { name: "from above", y: s.above, of: fromAbove },
  ] as const;
  return (
    <div ref={box}>
      <Drawing width={width} height={s.height} role="group" aria-label={`Bay with ${first.name}`}>
        <defs>
          <pattern
            id={hatch}
            width="5"
            height="5"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <line x1="0" y1="0" x2="0" y2="5" stroke="var(--heat-4)" strokeWidth="1.5" />
          </pattern>
        </defs>
        {views.map((view) => (
          <g key={view.name}>
            <text x={s.x(first.bay.box.along_mm)} y={fromTop(view.of(first.bay.box, s))}>
              {view.name}
            </text>
            <Room drawn={first} s={s} of={view.of} up={view.name === "from the side"} />
          </g>
        ))}
        {bays.map((drawn, i) => (
          <Slid key={drawn.id} by={i === 0 && at !== undefined ? s.long(at - drawn.middle_mm) : 0}>
            {views.map((view) => (
              <Packs
                key={view.name}
                drawn={drawn}
                s={s}
                of={view.of}
                dash={dashes[i]}
                hatch={hatch}
                ghost={bays.length > 1}
              />
            ))}
          </Slid>
        ))}
        {first.balance && <Line drawn={first} s={s} />}
        {onMove && first.packs.length > 0 && <Handle drawn={first} s={s} at={at} onMove={onMove} />}
      </Drawing>
    </div>
  );
}

type View = (b: BayBox, s: Scaled) => Rect;
const fromTop = (r: Rect) => r.y - 4;

function Slid({ by, children }: { by: number; children: React.ReactNode }) {
  return by === 0 ? <g>{children}</g> : <g transform={`translate(${by} 0)`}>{children}</g>;
}

/** The bay: what nobody measured of it is dashed; within, the room that the clearance leaves. */
function Room({ drawn, s, of, up }: { drawn: BayDrawn; s: Scaled; of: View; up: boolean }) {
  const { box, inside, measured } = drawn.bay;
  const r = of(box, s);
  const known = (name: string) => (measured.includes(name) ? undefined : "4 3");
  const along = known(up ? "height" : "width");
  const ends = known("length");
  const line = { stroke: "var(--ink)", strokeWidth: 1.5 };
  return (
    <>
      <rect
        {...of(inside, s)}
        fill="none"
        stroke="var(--rule-strong)"
        strokeWidth="0.5"
        strokeDasharray="1 3"
      />
      <line {...line} x1={r.x} x2={r.x + r.width} y1={r.y} y2={r.y} strokeDasharray={along} />
      <line
        {...line}
        x1={r.x}
        x2={r.x + r.width}
        y1={r.y + r.height}
        y2={r.y + r.height}
        strokeDasharray={along}
      />
      <line {...line} x1={r.x} x2={r.x} y1={r.y} y2={r.y + r.height} strokeDasharray={ends} />
      <line
        {...line}
        x1={r.x + r.width}
        x2={r.x + r.width}
        y1={r.y}
        y2={r.y + r.height}
        strokeDasharray={ends}
      />
    </>
  );
}

type PacksProps = {
  drawn: BayDrawn;
  s: Scaled;
  of: View;
  dash: string | undefined;
  hatch: string;
  ghost: boolean;
};

/** The pack or packs, the strap about them, the leads behind; hatched what does not go in. */
function Packs({ drawn, s, of, dash, hatch, ghost }: PacksProps) {
  const out = Object.keys(drawn.sticks_out_mm).length > 0;
  const leads = drawn.leads && of(drawn.leads, s);
  return (
    <>
      {drawn.packs.map((b) => (
        <rect
          key={`${b.along_mm} ${b.across_mm} ${b.up_mm}`}
          {...of(b, s)}
          rx="2"
          fill={ghost ? "none" : "var(--hollow)"}
          stroke="var(--ink)"
          strokeWidth="1.25"
          strokeDasharray={dash}
        />
      ))}
      {out &&
        !ghost &&
        drawn.packs.map((b) => (
          <rect
            key={`${b.along_mm} ${b.across_mm} ${b.up_mm} out`}
            {...of(b, s)}
            fill={`url(#${hatch})`}
            opacity="0.5"
          />
        ))}
      {drawn.strap && !ghost && (
        <rect
          {...of(drawn.strap, s)}
          fill="var(--rule-strong)"
          opacity="0.45"
          stroke="var(--ink-faint)"
          strokeWidth="0.5"
        />
      )}
      {leads && !ghost && (
        <path d={loop(leads, drawn.leads_ahead)} fill="none" stroke="var(--ink)" strokeWidth="2" />
      )}
    </>
  );
}

/** The leads as they leave the pack and turn, in the room that they need for it. */
function loop({ x, y, width: w, height: h }: Rect, ahead: boolean): string {
  const [from, way, sweep] = ahead ? [x + w, -1, 0] : [x, 1, 1];
  const r = w * 0.4;
  return `M${from} ${y + h / 2 - 3} h${way * w * 0.5} a${r} ${r} 0 0 ${sweep} 0 ${2 * r} h${-way * r}`;
}

/** Along the model: where it balances now, where it should, and where the pack's middle must lie for that. */
function Line({ drawn, s }: { drawn: BayDrawn; s: Scaled }) {
  const p = usePreferences();
  const { balance, wanted_mm } = drawn;
  if (!balance || wanted_mm === null) return null;
  const [now, wanted, middle] = [s.x(balance.at_mm), s.x(balance.wanted_mm), s.x(wanted_mm)];
  const y = s.line;
  const even = balance.heavy === "balances";
  const right = wanted > s.x(drawn.bay.box.along_mm) + 60;
  return (
    <>
      <line
        x1={s.x(drawn.bay.box.along_mm)}
        x2={Math.max(now, wanted) + 8}
        y1={y}
        y2={y}
        stroke="var(--rule-strong)"
      />
      <line x1={middle} x2={middle} y1={s.side} y2={y + 3} stroke="var(--fjord)" strokeDasharray="3 3" />
      <text x={s.x(drawn.bay.box.along_mm)} y={y + 13}>
        ← nose
      </text>
      <path d={`M${wanted} ${y} l-6 10 h12 z`} fill="none" stroke="var(--ink)" strokeWidth="1.25" />
      {!even && <path d={`M${now} ${y} l-6 10 h12 z`} fill="var(--ink)" />}
      <text x={right ? wanted + 8 : wanted} y={y + 24} textAnchor={right ? "end" : "start"}>
        balance {worded("length", balance.wanted_mm, p)}
        {even ? "" : `, now ${worded("length", balance.at_mm, p)}`}
      </text>
    </>
  );
}

type HandleProps = { drawn: BayDrawn; s: Scaled; at: number | undefined; onMove: (at: number) => void };

/** What is taken hold of: by hand, or with the arrow keys a millimetre at a time. */
function Handle({ drawn, s, at, onMove }: HandleProps) {
  const p = usePreferences();
  const from = useRef<{ x: number; at: number } | null>(null);
  const here = at ?? drawn.middle_mm;
  const [low = here, high = here] = drawn.slide_mm;
  const move = (to: number) => onMove(Math.min(Math.max(to, low), high));
  const place = (e: PointerEvent<SVGGElement>) =>
    e.currentTarget.ownerSVGElement ? placeIn(e.currentTarget.ownerSVGElement, e).x : 0;
  const onKey = (e: KeyboardEvent) => {
    const steps: Record<string, number> = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 };
    const step = steps[e.key];
    if (step !== undefined) move(here + step * (e.shiftKey ? 10 : 1));
    else if (e.key === "Home") move(low);
    else if (e.key === "End") move(high);
    else return;
    e.preventDefault();
  };
  const shift = s.long(here - drawn.middle_mm);
  const balances = drawn.balance?.sentence ?? "its balance is not known";
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label="Where the pack’s middle lies"
      aria-valuemin={Math.round(low)}
      aria-valuemax={Math.round(high)}
      aria-valuenow={Math.round(here)}
      aria-valuetext={`${worded("length", here, p)}; ${balances}`}
      className="cursor-ew-resize touch-none"
      transform={`translate(${shift} 0)`}
      onKeyDown={onKey}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        from.current = { x: place(e), at: here };
      }}
      onPointerMove={(e) => {
        const start = from.current;
        if (start) move(start.at + (place(e) - start.x) / s.long(1));
      }}
      onPointerUp={() => {
        from.current = null;
      }}
    >
      {drawn.packs.map((b) => (
        <g key={`${b.along_mm} ${b.across_mm} ${b.up_mm}`} fill="transparent">
          <rect {...fromTheSide(b, s)} />
          <rect {...fromAbove(b, s)} />
        </g>
      ))}
    </g>
  );
}
