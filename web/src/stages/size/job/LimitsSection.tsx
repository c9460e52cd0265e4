import { useQuery } from "@tanstack/react-query";
import { memo } from "react";
import type { Job } from "@/api/types";
import { CUTOFFS, MOTOR_KINDS, RATINGS } from "@/app/choices";
import { choicesQuery } from "@/app/queries";
import type { JobEditing } from "@/app/useJob";
import { bare, worded } from "@/format/quantity";
import { ChoiceField } from "@/parts/ChoiceField";
import { NumberField } from "@/parts/NumberField";
import { Section } from "@/stages/size/job/Section";

type Props = {
  store: JobEditing;
  problems: ReadonlyMap<string, string>;
  /** The volts that the electronics may see, as the last plan worked them out. */
  window: { max_v: number; min_v: number } | undefined;
};
type Electronics = Job["electronics"];
type Bay = Job["bay"];

function voltsWords({ min_v, max_v }: { min_v: number; max_v: number }): string {
  return min_v > 0
    ? `${bare("voltage", min_v)} to ${worded("voltage", max_v)}`
    : `up to ${worded("voltage", max_v)}`;
}

export const LimitsSection = memo(function LimitsSection({ store, problems, window }: Props) {
  const { data: choices } = useQuery(choicesQuery);
  const { electronics: e, bay } = store.job;
  const several = e.controllers > 1 && e.controller_ratings === "each";
  const electronics = (label: string, part: Partial<Electronics>) =>
    store.change(label, (job) => ({ ...job, electronics: { ...job.electronics, ...part } }));
  const inBay = (label: string, part: Partial<Bay>) =>
    store.change(label, (job) => ({ ...job, bay: { ...job.bay, ...part } }));
  const field = (
    name: keyof Electronics,
    label: string,
    kind: "current" | "voltage" | "kv" | "gauge" | "length" | "count",
    step: number,
    optional = true,
  ) => (
    <NumberField
      label={label}
      kind={kind}
      value={e[name] as number | null}
      step={step}
      optional={optional}
      problem={problems.get(`electronics.${name}`)}
      assumed={store.confirm(`electronics.${name}`)}
      onChange={(v) => (v !== null || optional) && electronics(label.toLowerCase(), { [name]: v })}
    />
  );
  const room = (name: keyof Bay, label: string, kind: "length" | "temperature", optional = true) => (
    <NumberField
      label={label}
      kind={kind}
      value={bay[name] as number | null}
      step={1}
      optional={optional}
      problem={problems.get(`bay.${name}`)}
      onChange={(v) => (v !== null || optional) && inBay(label.toLowerCase(), { [name]: v })}
    />
  );
  return (
    <Section title="What it can take">
      <NumberField
        label="Rated from, LiPo cells"
        kind="cells"
        value={e.rated_from}
        step={1}
        optional
        placeholder="—"
        problem={problems.get("electronics.rated_from")}
        onChange={(v) => electronics("fewest cells", { rated_from: v, min_v: v === null ? 0 : null })}
      />
      <NumberField
        label="Rated to, LiPo cells"
        kind="cells"
        value={e.rated_cells}
        step={1}
        optional
        placeholder="—"
        problem={problems.get("electronics.rated_cells") ?? problems.get("electronics.max_v")}
        assumed={store.confirm("electronics.max_v")}
        hint={window ? voltsWords(window) : undefined}
        onChange={(v) =>
          electronics("most cells", { rated_cells: v, max_v: v === null ? (window?.max_v ?? e.max_v) : null })
        }
      />
      {field("controller_continuous_a", several ? "Controller, each" : "Controller", "current", 1)}
      {field("controller_burst_a", several ? "Burst, each" : "Controller, burst", "current", 1)}
      {field("controllers", "Controllers", "count", 1, false)}
      {e.controllers > 1 && (
        <ChoiceField
          label="The amps are for"
          value={e.controller_ratings}
          choices={RATINGS}
          onChange={(id) =>
            electronics("what the amps are for", {
              controller_ratings: id as Electronics["controller_ratings"],
            })
          }
        />
      )}
      <ChoiceField
        label="Plug"
        value={e.plug}
        choices={choices?.plugs ?? []}
        problem={problems.get("plug")}
        assumed={store.confirm("electronics.plug")}
        onChange={(plug) => electronics("plug", { plug })}
      />
      <NumberField
        label="Mass without the pack"
        kind="mass"
        value={store.job.mass_g}
        step={10}
        problem={problems.get("mass_g")}
        onChange={(v) =>
          v !== null && store.change("mass without the pack", (job) => ({ ...job, mass_g: v }))
        }
      />
      <details className="mt-1">
        <summary className="min-h-6 text-small text-ink-faint">Motor, cut-off and leads</summary>
        <NumberField
          label="Highest volts, not in cells"
          kind="voltage"
          value={e.max_v}
          step={0.1}
          optional
          placeholder="by cells"
          onChange={(v) => v !== null && electronics("highest volts", { max_v: v, rated_cells: null })}
        />
        <NumberField
          label="Lowest volts, not in cells"
          kind="voltage"
          value={e.min_v}
          step={0.1}
          optional
          placeholder="by cells"
          problem={problems.get("electronics.min_v")}
          onChange={(v) => electronics("lowest volts", { min_v: v ?? 0, rated_from: null })}
        />
        <ChoiceField
          label="Low-voltage cut-off"
          value={e.cutoff}
          choices={CUTOFFS}
          assumed={store.confirm("electronics.cutoff")}
          onChange={(id) => electronics("cut-off", { cutoff: id as Electronics["cutoff"] })}
        />
        {field("motor_continuous_a", "Motor", "current", 1)}
        {field("motor_burst_a", "Motor, burst", "current", 1)}
        {field("motor_kv", "Motor kV", "kv", 10)}
        {field("motors", "Motors", "count", 1, false)}
        {e.motors > 1 && (
          <ChoiceField
            label="Its amps are for"
            value={e.motor_ratings}
            choices={RATINGS}
            onChange={(id) =>
              electronics("what the motor’s amps are for", {
                motor_ratings: id as Electronics["motor_ratings"],
              })
            }
          />
        )}
        <ChoiceField
          label="Motor is"
          value={String(e.brushed)}
          choices={MOTOR_KINDS}
          onChange={(id) => electronics("motor kind", { brushed: id === "true" })}
        />
        {field("lead_awg", "Model’s leads", "gauge", 1, false)}
        {field("lead_length_mm", "Length of the leads", "length", 5, false)}
        <ChoiceField
          label="It moves by"
          value={store.job.motion}
          choices={choices?.motions ?? []}
          onChange={(id) => store.change("how it moves", (job) => ({ ...job, motion: id as Job["motion"] }))}
        />
      </details>
      <details className="mt-1">
        <summary className="min-h-6 text-small text-ink-faint">Bay, air and balance</summary>
        {room("length_mm", "Bay length", "length")}
        {room("width_mm", "Bay width", "length")}
        {room("height_mm", "Bay height", "length")}
        <ChoiceField
          label="Air"
          value={bay.airflow}
          choices={choices?.airflows ?? []}
          onChange={(id) => inBay("airflow", { airflow: id as Bay["airflow"] })}
        />
        {room("air_c", "Air temperature", "temperature", false)}
        {room("pack_c", "Pack at the start", "temperature")}
        {room("balance_at_mm", "Balance point wanted", "length")}
        {room("empty_balance_mm", "Balances without pack at", "length")}
        {room("centre_mm", "Middle of the bay at", "length")}
      </details>
    </Section>
  );
});
