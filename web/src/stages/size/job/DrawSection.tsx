import { lazy, memo, Suspense, useState } from "react";
import type { Job, Plan } from "@/api/types";
import type { JobEditing } from "@/app/useJob";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { Figure } from "@/parts/Figure";
import { NumberField } from "@/parts/NumberField";
import { DutyChart } from "@/stages/size/job/DutyChart";
import { Section } from "@/stages/size/job/Section";

// not needed before a log is read: it stays out of the first load
const LogSheet = lazy(() => import("@/stages/size/log/LogSheet").then((m) => ({ default: m.LogSheet })));

type Props = {
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
export const DrawSection = memo(function DrawSection({ store, duty, problems, minds }: Props) {
  const [reading, setReading] = useState(false);
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
  return (
    <Section title="What it draws">
      <NumberField
        label="Average"
        kind="current"
        value={draw.average_a}
        step={0.5}
        problem={problems.get("draw.average_a")}
        assumed={store.confirm("draw.average_a")}
        onChange={(v) => v !== null && set("average amps", { average_a: v })}
      />
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
      <NumberField
        label="Peak"
        kind="current"
        value={draw.peak_a}
        step={1}
        problem={problems.get("draw.peak_a")}
        assumed={store.confirm("draw.peak_a")}
        onChange={(v) => v !== null && set("peak amps", { peak_a: v })}
      />
      <NumberField
        label="Peak lasts"
        kind="seconds"
        value={draw.peak_s}
        step={1}
        problem={problems.get("draw.peak_s")}
        assumed={store.confirm("draw.peak_s")}
        onChange={(v) => v !== null && set("length of the peak", { peak_s: v })}
      />
      <NumberField
        label="Peak every"
        kind="seconds"
        value={draw.peak_every_s}
        step={5}
        problem={problems.get("draw.peak_every_s")}
        assumed={store.confirm("draw.peak_every_s")}
        onChange={(v) => v !== null && set("time between peaks", { peak_every_s: v })}
      />
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
        <NumberField
          label="At volts under load"
          kind="voltage"
          value={draw.reference_voltage_v}
          step={0.1}
          problem={problems.get("draw.reference_voltage_v")}
          onChange={(v) => v !== null && keepSource("volts while measured", { reference_voltage_v: v })}
        />
        <NumberField
          label="Full stick at volts"
          kind="voltage"
          value={draw.peak_voltage_v}
          step={0.1}
          optional
          placeholder="as above"
          problem={problems.get("draw.peak_voltage_v")}
          onChange={(v) => keepSource("volts at full stick", { peak_voltage_v: v })}
        />
        <NumberField
          label="At a mass, all up"
          kind="mass"
          value={draw.reference_mass_g}
          step={10}
          problem={problems.get("draw.reference_mass_g")}
          onChange={(v) => v !== null && keepSource("mass while measured", { reference_mass_g: v })}
        />
        <NumberField
          label="Differs from run to run"
          kind="percent"
          value={draw.spread}
          step={0.01}
          problem={problems.get("draw.spread")}
          onChange={(v) => v !== null && keepSource("spread of the draw", { spread: v })}
          hint="plus or minus; widens the range of minutes"
        />
      </details>
      <button type="button" className="action mt-1.5 text-small" onClick={() => setReading(true)}>
        Read a watt-meter log…
      </button>
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
