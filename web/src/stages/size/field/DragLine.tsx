import { useRef } from "react";
import { placeIn } from "@/charts/Drawing";

type Props = {
  direction: "up" | "across";
  label: string;
  text: string;
  value: number;
  max: number;
  step: number;
  /** Where the line stands, in px across its direction; from and to are its ends. */
  at: number;
  from: number;
  to: number;
  invert: (px: number) => number;
  onDrag: (value: number, continues: boolean) => void;
  /** So many steps from the value there is by then: keys may come faster than the screen is drawn. */
  onStep: (steps: number, continues: boolean) => void;
  onHold: (on: boolean) => void;
};

const TAB_W = 84;

/** A want as a line on the plot: dragged by its line or tab; arrow keys move it, Page keys ten steps. */
export function DragLine({
  direction,
  label,
  text,
  value,
  max,
  step,
  at,
  from,
  to,
  invert,
  onDrag,
  onStep,
  onHold,
}: Props) {
  const moving = useRef(false);
  const up = direction === "up";
  const tabX = up ? to - TAB_W : Math.min(Math.max(at - TAB_W / 2, 40), at);
  const tabY = up ? at - 11 : from - 22;
  const position = (event: React.PointerEvent<SVGGElement>) => {
    const svg = event.currentTarget.ownerSVGElement;
    if (!svg) return value;
    const place = placeIn(svg, event);
    return invert(up ? place.y : place.x);
  };
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-orientation={up ? "vertical" : "horizontal"}
      aria-valuemin={step}
      aria-valuemax={Math.round(max)}
      aria-valuenow={value}
      aria-valuetext={text.replace(/[↕↔]/g, "").trim()}
      className="group touch-none outline-none"
      style={{ cursor: up ? "ns-resize" : "ew-resize" }}
      onClick={(e) => e.stopPropagation()}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        moving.current = false;
        onHold(true);
      }}
      onPointerMove={(e) => {
        if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
        onDrag(position(e), moving.current);
        moving.current = true;
      }}
      onPointerUp={() => onHold(false)}
      onPointerCancel={() => onHold(false)}
      onKeyDown={(e) => {
        const steps: Record<string, number> = {
          ArrowUp: 1,
          ArrowRight: 1,
          ArrowDown: -1,
          ArrowLeft: -1,
          PageUp: 10,
          PageDown: -10,
        };
        const move = steps[e.key];
        if (move === undefined) return;
        e.preventDefault();
        onStep(move, e.repeat);
      }}
    >
      <line
        x1={up ? from : at}
        x2={up ? to : at}
        y1={up ? at : from}
        y2={up ? at : to}
        stroke="transparent"
        strokeWidth={16}
      />
      <line
        x1={up ? from : at}
        x2={up ? to : at}
        y1={up ? at : from}
        y2={up ? at : to}
        stroke="var(--fjord)"
        strokeWidth={1.5}
      />
      <rect
        x={tabX}
        y={tabY}
        width={TAB_W}
        height={22}
        rx={2}
        fill="var(--fjord)"
        className="group-focus-visible:stroke-(--ink) group-focus-visible:stroke-[3px]"
      />
      <text
        x={tabX + TAB_W / 2}
        y={tabY + 15}
        textAnchor="middle"
        style={{ fill: "var(--on-fjord)", fontWeight: 600 }}
      >
        {text}
      </text>
    </g>
  );
}
