import type { ReactNode } from "react";
import type { Check, Plate } from "@/api/types";
import { usePreferences } from "@/format/preferences";
import { loadingText, worded } from "@/format/quantity";
import { Figure } from "@/parts/Figure";
import { heat } from "@/parts/heat";

/** The mark of the program: a plate for each link, the weakest slid out with its sentence. */
type Props<T extends Plate> = { plates: T[]; label: string; note?: (plate: T) => ReactNode };

export function Stack<T extends Plate>({ plates, label, note }: Props<T>) {
  return (
    <ol aria-label={label} className="space-y-1">
      {plates.map((plate) => (
        <PlateRow key={plate.link} plate={plate} note={note?.(plate)} />
      ))}
    </ol>
  );
}

const WEAKEST = "-ml-4 mb-2.5 mt-2 mr-2 border border-ink bg-sheet px-2.5 pb-1.5 pt-1 md:-ml-7";

function PlateRow({ plate, note }: { plate: Plate; note: ReactNode }) {
  const over = (plate.loading ?? 0) > 1;
  const { leading, continuous, burst } = plate;
  // the bar shows what stands above it: amps with their peak, or how warm the link gets
  const byAmps = leading.id === continuous.id || leading.id === burst.id;
  return (
    <li className={`slides ${plate.weakest ? WEAKEST : "pl-2"}`}>
      <div className="flex items-baseline justify-between gap-2">
        <span className="text-balance text-plain font-semibold leading-4">{plate.name}</span>
        <Figure
          working={plate.leading.working}
          label={`${plate.name}, loading`}
          className="number whitespace-nowrap text-fine"
        >
          <Load check={plate.leading} />
        </Figure>
      </div>
      <Bar
        continuous={byAmps ? continuous.loading : leading.loading}
        burst={byAmps ? burst.loading : null}
        worst={plate.loading ?? 0}
        assumed={plate.assumed ?? false}
      />
      {plate.assumed && !plate.sentence && (
        <p className="mt-1 text-fine leading-3.25 text-ink-faint">
          assumed: nobody said what it is rated for
        </p>
      )}
      {!note && plate.ratings && (
        <p className="number text-fine leading-3.25 text-ink-faint">{plate.ratings}</p>
      )}
      {note && <p className="number text-fine leading-3.25 text-ink-faint">{note}</p>}
      {!plate.weakest && plate.sentence && (
        <p className="mt-0.5 text-small font-semibold leading-3.75">{plate.sentence}</p>
      )}
      {plate.weakest && (
        <p className={`mt-1 text-small leading-3.75 ${over ? "font-semibold text-alert" : "text-ink-soft"}`}>
          {plate.sentence}
        </p>
      )}
    </li>
  );
}

function Load({ check }: { check: Check }) {
  const p = usePreferences();
  if (check.value === null) return <>not known</>;
  const kind = check.unit === "A" ? "current" : check.unit === "K" ? "temperature_step" : "temperature";
  if (check.limit === null) return <>{worded(kind, check.value, p)}, limit not known</>;
  return (
    <>
      {worded(kind, check.value, p)} of {worded(kind, check.limit, p)}
      {check.id.endsWith(".burst") ? " peak" : ""}
      {check.unit === "K" ? " warmer" : ""}
      <span className="ml-1.5 text-ink-faint">
        {check.loading === null ? "" : loadingText(check.loading)}
      </span>
    </>
  );
}

type BarProps = { continuous: number | null; burst: number | null; worst: number; assumed: boolean };

/**
 * Fill for the continuous load, a thin tick for the burst; past 100 % it breaks out of its frame with a
 * hatch.
 */
function Bar({ continuous, burst, worst, assumed }: BarProps) {
  const fill = continuous ?? 0;
  const inside = Math.min(fill, 1) * 100;
  const beyond = Math.min(Math.max(worst - 1, 0), 0.12) * 100;
  return (
    <svg
      viewBox="0 0 112 14"
      preserveAspectRatio="none"
      className="mt-0.5 block h-3.5 w-full overflow-visible"
      aria-hidden="true"
    >
      <defs>
        <pattern
          id="over-hatch"
          width="3"
          height="3"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <rect width="3" height="3" fill="var(--heat-4)" />
          <line x1="0" y1="0" x2="0" y2="3" stroke="var(--sheet)" strokeWidth="1" />
        </pattern>
      </defs>
      <rect width="100" height="14" fill="var(--hollow)" />
      {assumed ? (
        <rect
          x="0.3"
          y="0.7"
          width={Math.max(inside - 0.6, 0)}
          height="12.6"
          fill="none"
          stroke="var(--rule-strong)"
          strokeWidth="1"
          strokeDasharray="3 2"
          vectorEffect="non-scaling-stroke"
        />
      ) : (
        <rect width={inside} height="14" fill={heat(worst)} />
      )}
      {!assumed && beyond > 0 && (
        <rect x="100" y="-2" width={Math.max(beyond, 3)} height="18" fill="url(#over-hatch)" />
      )}
      {burst !== null && (
        <rect x={Math.min(burst, 1.11) * 100 - 0.35} y="-2" width="0.7" height="18" fill="var(--ink)" />
      )}
    </svg>
  );
}
