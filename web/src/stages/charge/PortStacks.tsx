import type { Glance } from "@/api/types";
import { usePreferences } from "@/format/preferences";
import { bare, between, worded } from "@/format/quantity";
import { clock } from "@/format/time";
import { JudgedAgo } from "@/stages/charge/JudgedAgo";

type Props = { charges: Glance[]; at: number; shown: number; onShow: (id: number) => void };

/**
 * Every charge that runs as a small stack of its cells, the worst first; the pressed one is shown large
 * below. On a phone it is to be read from an arm's length. */
export function PortStacks({ charges, at, shown, onShow }: Props) {
  return (
    <>
      <ul className="mt-3 grid gap-3 sm:grid-cols-2 xl:grid-cols-4">
        {charges.map((c) => (
          <li key={c.id} className="flex">
            <PortStack charge={c} at={at} pressed={c.id === shown} onPress={() => onShow(c.id)} />
          </li>
        ))}
      </ul>
      <p className="mt-1.5 text-small text-ink-faint">
        Each bar is a cell, from empty to full; the upright line is where it was expected by now. The worst
        comes first.
      </p>
    </>
  );
}

type StackProps = { charge: Glance; at: number; pressed: boolean; onPress: () => void };

function PortStack({ charge: c, at, pressed, onPress }: StackProps) {
  const p = usePreferences();
  const alarmed = c.urgency !== "well";
  const edge = pressed ? "border-fjord" : alarmed ? "border-alert" : "border-rule";
  return (
    <button
      type="button"
      aria-pressed={pressed}
      onClick={onPress}
      className={`grid w-full content-start gap-2 rounded-plate border-2 bg-ground px-3 py-2.5 text-left
        ${edge}`}
    >
      <span className="flex flex-wrap items-baseline justify-between gap-x-3">
        <span className="number text-display font-semibold leading-9 md:text-title">{c.label}</span>
        <span className={`text-title font-semibold md:text-lead ${alarmed ? "text-alert" : ""}`}>
          {call(c)}
        </span>
      </span>
      <Bars charge={c} />
      <span className="flex flex-wrap justify-between gap-x-3 text-lead md:text-plain">
        <span className="number">{volts(c.cell_v)}</span>
        {c.temperature_c != null && (
          <span className="number">{worded("temperature", c.temperature_c, p)}</span>
        )}
        <span className="number">
          {bare("whole_minutes", c.minutes)} of about {worded("whole_minutes", c.of_minutes)}
        </span>
      </span>
      {c.said && c.urgency !== "look" && (
        <span className="text-plain font-semibold text-alert">{c.said}</span>
      )}
      <span className="text-small text-ink-faint">
        {c.charger_name}, port {c.port}
      </span>
      <JudgedAgo seconds={c.judged_ago_s} within={c.judged_within_s} since={at} />
    </button>
  );
}

/** What to do about it, in two words. */
function call(c: Glance): string {
  if (c.urgency === "stop") return "Go to it";
  if (c.urgency === "warn") return "Alarm";
  return c.urgency === "look" ? "Look now" : `look in ${clock(c.look_in_s)} min`;
}

function volts(cells: number[]): string {
  if (cells.length === 0) return "no sample yet";
  return `${between("cell_voltage", Math.min(...cells), Math.max(...cells))} V`;
}

const WIDTH = 200;
const ROW = 9;

function Bars({ charge: c }: { charge: Glance }) {
  const at = (v: number) =>
    WIDTH * Math.min(1, Math.max(0.01, (v - c.empty_v) / Math.max(c.full_v - c.empty_v, 0.1)));
  const rows = Math.max(c.cell_v.length, 1);
  return (
    <svg
      aria-hidden="true"
      viewBox={`0 0 ${WIDTH} ${rows * ROW}`}
      preserveAspectRatio="none"
      className="w-full"
      style={{ height: rows * ROW + 4 }}
    >
      {Array.from({ length: rows }, (_, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a cell is known by its place
        <g key={k}>
          <rect y={k * ROW + 1} width={WIDTH} height={ROW - 2} fill="var(--hollow)" />
          <rect y={k * ROW + 1} width={at(c.cell_v[k] ?? c.empty_v)} height={ROW - 2} fill="var(--heat-1)" />
        </g>
      ))}
      {c.expected_cell_v != null && (
        <line
          x1={at(c.expected_cell_v)}
          x2={at(c.expected_cell_v)}
          y1={0}
          y2={rows * ROW}
          stroke="var(--ink)"
          strokeWidth={2}
          vectorEffect="non-scaling-stroke"
        />
      )}
    </svg>
  );
}
