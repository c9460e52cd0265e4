import { useQuery } from "@tanstack/react-query";
import { Suspense } from "react";
import type { Detail, Job } from "@/api/types";
import { TraceChart } from "@/charts/TraceChart";
import { type Preferences, usePreferences } from "@/format/preferences";
import { bare, between, loadingText, rounded, shown, worded } from "@/format/quantity";
import { Figure } from "@/parts/Figure";
import { heat } from "@/parts/heat";
import { lazyPart } from "@/parts/lazyPart";
import { detailsQuery } from "@/stages/size/queries";
import type { Chosen } from "@/stages/size/useChoice";

const BayPart = lazyPart(() => import("@/drawings/BayPart"));

const DASHES = [undefined, "6 3", "2 2", "8 3 2 3"] as const;

type Props = { slug: string; job: Job; chosen: Chosen };

/**
 * Two to four pinned packs side by side: traces overlaid, a row for each difference, which part limits
 * each.
 */
export function Compare({ slug, job, chosen }: Props) {
  const { data = [], error, isFetching } = useQuery(detailsQuery(slug, job, chosen.pins));
  return (
    <main className="flex-1 px-4 py-4 md:px-6" aria-busy={isFetching}>
      <div className="flex flex-wrap items-baseline justify-between gap-3">
        <h1 className="text-title font-semibold tracking-tight">
          {data.length || chosen.pins.length} packs side by side for {job.name}
        </h1>
        <button type="button" className="control" onClick={() => chosen.setComparing(false)}>
          Back to the field
        </button>
      </div>
      {error && <p role="alert">{error.message}</p>}
      {data.length === 0 && !error && <p className="py-8 text-ink-faint">Running the pinned packs…</p>}
      {data.length > 0 && (
        <>
          <div className="mt-3 max-w-4xl">
            <TraceChart
              lines={data.map((d, i) => ({
                name: d.name,
                trace: d.trace,
                ...(DASHES[i] ? { dash: DASHES[i] } : {}),
              }))}
              height={220}
              marks={false}
            />
          </div>
          <Table details={data} chosen={chosen} />
          <section aria-label="All in one bay" className="mt-6 max-w-4xl">
            <h2 className="heading">All in one bay</h2>
            <Suspense fallback={<div className="min-h-48" />}>
              <BayPart slug={slug} job={job} packs={chosen.pins} dashes={DASHES} />
            </Suspense>
          </section>
        </>
      )}
    </main>
  );
}

type Line = {
  name: string;
  value: (d: Detail, p: Preferences) => string;
  number?: (d: Detail) => number;
  better?: "more" | "less";
  /** Which of the pack's workings explains the figure. */
  working?: string;
};

const LINES: Line[] = [
  {
    name: "Cells",
    value: (d) => `${d.series}S${d.parallel > 1 ? `${d.parallel}P` : ""} ${d.chemistry_name}`,
  },
  { name: "Capacity", working: "budget", value: (d, p) => worded("charge", d.capacity_ah * 1000, p) },
  {
    name: "Minutes",
    working: "minutes",
    value: (d) => `${bare("minutes", d.minutes)} (${between("minutes", d.minutes_low, d.minutes_high)})`,
    number: (d) => d.minutes,
    better: "more",
  },
  {
    name: "Mass",
    working: "mass",
    value: (d, p) => worded("mass", d.mass_g, p),
    number: (d) => d.mass_g,
    better: "less",
  },
  {
    name: "Volts, full and printed",
    working: "full_v",
    value: (d) => `${worded("voltage", d.full_v)}, ${worded("voltage", d.nominal_v)}`,
  },
  { name: "Lowest volts under load", value: (d) => worded("voltage", d.lowest_v) },
  {
    name: "Average and peak",
    working: "peak",
    value: (d, p) => `${worded("current", d.average_a, p)}, ${worded("current", d.peak_a, p)}`,
  },
  {
    name: "Cells when landing",
    working: "temperature",
    value: (d, p) => worded("temperature", d.end_temperature_c, p),
    number: (d) => d.end_temperature_c,
    better: "less",
  },
  {
    name: "Honest C, thermal C",
    working: "honest_c",
    value: (d) =>
      `${worded("c_rate", d.honest_c)}, ${d.thermal_c === null ? "—" : worded("c_rate", d.thermal_c)}`,
  },
  {
    name: "Resistance of a cell",
    working: "honest_c",
    value: (d, p) => `${worded("resistance", d.cell_mohm, p)}, ${d.measured ? "measured" : "from the label"}`,
  },
  { name: "Timer", working: "timer", value: (d) => d.settings.timer },
  { name: "Charge to use", working: "budget", value: (d, p) => worded("charge", d.settings.budget_mah, p) },
  { name: "Alarm, a cell", working: "alarm", value: (d) => worded("cell_voltage", d.settings.alarm_cell_v) },
  {
    name: "Price",
    value: (d, p) => (d.price === null ? "—" : worded("price", d.price, p)),
    number: (d) => d.price ?? Number.NaN,
    better: "less",
  },
  {
    name: "Cost of an hour",
    working: "cost",
    value: (d, p) =>
      d.cost_per_h === null ? "—" : `${worded("price", d.cost_per_h, p)} (${priceBetween(d, p)})`,
    number: (d) => d.cost_per_h ?? Number.NaN,
    better: "less",
  },
  { name: "Cycles it is good for", working: "cost", value: (d) => `about ${rounded(d.cycles, 2)}` },
];

function priceBetween(d: Detail, p: Preferences): string {
  return `${shown("price", d.cost_low ?? 0, p).text} to ${shown("price", d.cost_high ?? 0, p).text}`;
}

function Table({ details, chosen }: { details: Detail[]; chosen: Chosen }) {
  const p = usePreferences();
  return (
    <div className="relative mt-4 overflow-x-auto">
      <table
        className="w-full min-w-[28rem] max-w-6xl border-collapse text-plain [&_td]:px-2 md:[&_td]:px-3
        [&_td]:py-1.5 [&_td]:align-top [&_th]:px-2 md:[&_th]:px-3 [&_th]:py-1.5 [&_tbody_th]:align-top"
      >
        <thead>
          <tr className="border-b align-bottom">
            <td />
            {details.map((d, i) => (
              <th key={d.id} scope="col" className="text-left font-semibold">
                <svg width="36" height="6" aria-hidden="true" className="mb-1 block">
                  <line
                    x1="0"
                    x2="36"
                    y1="3"
                    y2="3"
                    stroke="var(--ink)"
                    strokeWidth="1.5"
                    strokeDasharray={DASHES[i]}
                  />
                </svg>
                {d.name}
                <button
                  type="button"
                  className="action ml-2 text-small"
                  onClick={() => chosen.togglePin(d.id)}
                  aria-label={`Unpin ${d.name}`}
                >
                  unpin
                </button>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr className="border-b border-hollow">
            <th scope="row" className="text-left font-normal text-ink-soft">
              Does the job
            </th>
            {details.map((d) => (
              <td key={d.id}>{d.feasible ? "yes" : `no: ${d.lacks.join("; ")}`}</td>
            ))}
          </tr>
          <tr className="border-b border-hollow">
            <th scope="row" className="text-left font-normal text-ink-soft">
              What limits it
            </th>
            {details.map((d) => (
              <td key={d.id}>
                <Weakest detail={d} />
              </td>
            ))}
          </tr>
          <tr className="border-b border-hollow">
            <th scope="row" className="text-left font-normal text-ink-soft">
              Mind
            </th>
            {details.map((d) => (
              <td key={d.id} className="text-small text-ink-soft">
                <Mind detail={d} />
              </td>
            ))}
          </tr>
          {LINES.map((line) => (
            <tr key={line.name} className="border-b border-hollow">
              <th scope="row" className="text-left font-normal text-ink-soft">
                {line.name}
              </th>
              {details.map((d) => (
                <td key={d.id} className={`number text-small ${isBest(line, d, details) ? "font-bold" : ""}`}>
                  <Figure working={line.working ? d.workings[line.working] : undefined} label={line.name}>
                    {line.value(d, p)}
                  </Figure>
                  {isBest(line, d, details) && (
                    <span
                      className="ml-1 font-(family-name:--font-words) text-fine font-normal
                      text-ink-faint"
                    >
                      {bestWord(line)}
                    </span>
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function isBest(line: Line, d: Detail, all: Detail[]): boolean {
  if (!line.number || !line.better) return false;
  const values = all.map(line.number).filter((v) => !Number.isNaN(v));
  const best = line.better === "more" ? Math.max(...values) : Math.min(...values);
  return values.length > 1 && line.number(d) === best && values.some((v) => v !== best);
}

function bestWord(line: Line): string {
  const words: Record<string, string> = {
    Minutes: "longest",
    Mass: "lightest",
    "Cells when landing": "coolest",
    Price: "cheapest to buy",
    "Cost of an hour": "cheapest to run",
  };
  return words[line.name] ?? "best";
}

function Weakest({ detail }: { detail: Detail }) {
  const plate = detail.plates.find((x) => x.weakest);
  if (!plate) return <>nothing rated</>;
  return (
    <>
      <span className="flex items-center gap-1.5 font-medium">
        <svg width="9" height="9" aria-hidden="true">
          <rect
            width="9"
            height="9"
            rx="1"
            fill={heat(plate.loading ?? 0)}
            stroke="var(--rule-strong)"
            strokeWidth="0.5"
          />
        </svg>
        {plate.name}, {loadingText(plate.loading ?? 0)}
      </span>
      <span className="text-small text-ink-faint">{plate.sentence}</span>
    </>
  );
}

function Mind({ detail }: { detail: Detail }) {
  const cautions = detail.checks
    .filter((c) => c.verdict === "caution")
    .map((c) => `${c.title}: ${c.sentence.replace(`${c.title}: `, "")}`);
  const all = [...cautions, ...detail.cautions.map((c) => c.sentence)];
  if (all.length === 0) return <>nothing in particular</>;
  return (
    <ul className="space-y-1">
      {all.map((sentence) => (
        <li key={sentence}>{sentence}</li>
      ))}
    </ul>
  );
}
