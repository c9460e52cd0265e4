import type { Plate } from "@/api/types";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { Figure } from "@/ui/Figure";
import { heat } from "@/ui/heat";

/** The mark of the program: a plate for each link, the weakest slid out with its sentence. */
export function Stack({ plates, label }: { plates: Plate[]; label: string }) {
  return (
    <ol aria-label={label} className="space-y-1">
      {plates.map((plate) => (
        <PlateRow key={plate.link} plate={plate} />
      ))}
    </ol>
  );
}

function PlateRow({ plate }: { plate: Plate }) {
  const shownCheck =
    plate.burst.loading !== null && (plate.burst.loading ?? 0) > (plate.continuous.loading ?? 0)
      ? plate.burst
      : plate.continuous;
  const peak = shownCheck === plate.burst;
  const over = (plate.loading ?? 0) > 1;
  return (
    <li
      className={`slides ${plate.weakest ? "-ml-4 mb-2.5 mt-2 mr-2 border border-ink bg-sheet px-2.5 pb-1.5 pt-1 md:-ml-7" : "pl-2"}`}
    >
      <div className="flex items-baseline justify-between gap-2">
        <span className="text-[13px] font-semibold">{plate.name}</span>
        <Figure
          working={shownCheck.working}
          label={`${plate.name}, loading`}
          className="number text-[11.5px]"
        >
          <Load value={shownCheck.value} limit={shownCheck.limit} peak={peak} loading={plate.loading} />
        </Figure>
      </div>
      <Bar continuous={plate.continuous.loading} burst={plate.burst.loading} />
      {plate.weakest && (
        <p
          className={`mt-1 text-[12px] leading-[15px] ${over ? "font-semibold text-alert" : "text-ink-soft"}`}
        >
          {plate.sentence}
        </p>
      )}
    </li>
  );
}

function Load({
  value,
  limit,
  peak,
  loading,
}: {
  value: number | null;
  limit: number | null;
  peak: boolean;
  loading: number | null;
}) {
  const p = usePreferences();
  if (value === null) return <>not known</>;
  if (limit === null) return <>{worded("current", value, p)}, limit not known</>;
  return (
    <>
      {worded("current", value, p)} of {worded("current", limit, p)}
      {peak ? " peak" : ""}
      <span className="ml-1.5 text-ink-faint">{loading === null ? "" : `${Math.round(loading * 100)}%`}</span>
    </>
  );
}

/** Fill for the continuous load, a thin tick for the burst; past 100 % it breaks out of its frame with a hatch. */
function Bar({ continuous, burst }: { continuous: number | null; burst: number | null }) {
  const fill = continuous ?? 0;
  const worst = Math.max(fill, burst ?? 0);
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
      <rect width={inside} height="14" fill={heat(worst)} />
      {beyond > 0 && <rect x="100" y="-2" width={Math.max(beyond, 3)} height="18" fill="url(#over-hatch)" />}
      {burst !== null && (
        <rect x={Math.min(burst, 1.11) * 100 - 0.35} y="-2" width="0.7" height="18" fill="var(--ink)" />
      )}
    </svg>
  );
}
