import { lazy, memo, Suspense, useState } from "react";
import type { Job, Plan } from "@/api/types";
import type { JobEditing } from "@/app/useJob";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { Figure } from "@/parts/Figure";
import { fieldsOf } from "@/parts/fieldsOf";
import { DutyChart } from "@/stages/size/job/DutyChart";
import { Section } from "@/stages/size/job/Section";

// not needed before a log is read: it stays out of the first load
const LogSheet = lazy(() => import("@/stages/size/log/LogSheet").then((m) => ({ default: m.LogSheet })));

const EstimateSheet = lazy(() =>
  import("@/stages/size/estimate/EstimateSheet").then((m) => ({ default: m.EstimateSheet })),
);

type Props = {
  model: string;
  store: JobEditing;
  duty: Plan["duty"] | undefined;
  problems: ReadonlyMap<string, string>;
  minds: ReadonlyMap<string, string>;
};

type Draw = Job["draw"];

const SOURCES: Record<Draw["source"], string> = {
  typed: "typed",
  log: "from a log",
  sheet: "from the maker’s sheet",
  estimate: "an estimate",
  measured: "measured",
};

/** What it draws: figures typed, or found in a watt-meter log. A figure typed over a log's makes it typed. */
export const DrawSection = memo(function DrawSection({ model, store, duty, problems, minds }: Props) {
  const [reading, setReading] = useState(false);
  const [estimating, setEstimating] = useState(false);
  const [where, setWhere] = useState(false);
  const p = usePreferences();
  const { draw } = store.job;
  const set = (label: string, part: Partial<Draw>) =>
    store.change(label, (job) => ({
      ...job,
      draw: { ...job.draw, source: "typed", source_note: "", phases: null, ...part },
    }));
  const keepSource = (label: string, part: Partial<Draw>) =>
    store.change(label, (job) => ({ ...job, draw: { ...job.draw, ...part } }));
  const asked = { values: draw, at: "draw.", problems };
  const typed = fieldsOf({ ...asked, put: set, assumed: store.confirm });
  const kept = fieldsOf({ ...asked, put: keepSource });
  return (
    <Section title="What it draws">
      {typed.number("average_a", "Average", "current", 0.5, { words: "average amps", given: true })}
      {duty && (
        <p className="pb-1 text-right text-fine leading-3.5 text-ink-faint">
          <button type="button" className="action min-h-6 text-right" onClick={() => setWhere(!where)}>
            {worded("current", draw.average_a, p)}, {duty.true_for}
          </button>
        </p>
      )}
      {minds.get("draw.reference_voltage_v") && (
        <p className="border-l-4 border-ink pl-2 text-fine leading-3.5 text-ink-soft">
          {minds.get("draw.reference_voltage_v")}
        </p>
      )}
      {typed.number("peak_a", "Peak", "current", 1, { words: "peak amps", given: true })}
      {typed.number("peak_s", "Peak lasts", "seconds", 1, { words: "length of the peak", given: true })}
      {typed.number("peak_every_s", "Peak every", "seconds", 5, { words: "time between peaks", given: true })}
      {duty && <DutyChart duty={duty} />}
      <p className="mt-1 text-right text-fine leading-3.5 text-ink-faint">
        {SOURCES[draw.source]}
        {draw.source_note && `: ${draw.source_note}`}
        {duty && (
          <>
            ;{" "}
            <Figure working={duty.working} label="RMS">
              RMS {worded("current", duty.rms_a, p)}
            </Figure>
          </>
        )}
        {problems.get("draw.phases") && (
          <span className="block text-alert">{problems.get("draw.phases")}</span>
        )}
      </p>
      <details
        className="mt-1"
        open={where || problems.has("draw.reference_voltage_v") || problems.has("draw.reference_mass_g")}
        onToggle={(e) => setWhere(e.currentTarget.open)}
      >
        <summary className="min-h-6 text-small text-ink-faint">What it is true for</summary>
        {kept.number("reference_voltage_v", "At volts under load", "voltage", 0.1, {
          words: "volts while measured",
          given: true,
        })}
        {kept.number("peak_voltage_v", "Full stick at volts", "voltage", 0.1, {
          words: "volts at full stick",
          empty: "as above",
        })}
        {kept.number("reference_mass_g", "At a mass, all up", "mass", 10, {
          words: "mass while measured",
          given: true,
        })}
        {kept.number("spread", "Differs from run to run", "percent", 0.01, {
          words: "spread of the draw",
          given: true,
          hint: "plus or minus; widens the range of minutes",
        })}
      </details>
      <button type="button" className="action mt-1.5 text-small" onClick={() => setReading(true)}>
        Read a watt-meter log…
      </button>
      <button type="button" className="action mt-1.5 block text-small" onClick={() => setEstimating(true)}>
        Estimate it without a meter…
      </button>
      {estimating && (
        <Suspense>
          <EstimateSheet model={model} store={store} onClose={() => setEstimating(false)} />
        </Suspense>
      )}
      {reading && (
        <Suspense>
          <LogSheet
            motion={store.job.motion}
            airC={store.job.bay.air_c}
            onClose={() => setReading(false)}
            onUse={(found) => {
              keepSource("draw from a log", found);
              setReading(false);
            }}
          />
        </Suspense>
      )}
    </Section>
  );
});
