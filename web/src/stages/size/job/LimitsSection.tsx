import { useQuery } from "@tanstack/react-query";
import type { Job } from "@/api/types";
import { choicesQuery } from "@/app/queries";
import type { JobStore } from "@/app/useJob";
import { Section } from "@/stages/size/job/Section";
import { ChoiceField } from "@/ui/ChoiceField";
import { NumberField } from "@/ui/NumberField";

type Props = { store: JobStore; problems: ReadonlyMap<string, string> };
type Electronics = Job["electronics"];
type Bay = Job["bay"];

const CUTOFFS = [
  { id: "programmable", name: "yes, can be set", note: "" },
  { id: "none", name: "none", note: "" },
] as const;

const DRAWN = [
  { id: "false", name: "brushless", note: "" },
  { id: "true", name: "brushed", note: "" },
] as const;

export function LimitsSection({ store, problems }: Props) {
  const { data: choices } = useQuery(choicesQuery);
  const { electronics: e, bay } = store.job;
  const electronics = (label: string, part: Partial<Electronics>) =>
    store.change(label, (job) => ({ ...job, electronics: { ...job.electronics, ...part } }));
  const inBay = (label: string, part: Partial<Bay>) =>
    store.change(label, (job) => ({ ...job, bay: { ...job.bay, ...part } }));
  const field = (
    name: keyof Electronics,
    label: string,
    kind: "current" | "voltage" | "kv" | "gauge" | "length",
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
      {field("max_v", "Highest volts", "voltage", 0.1, false)}
      {field("controller_continuous_a", "Controller", "current", 1)}
      {field("controller_burst_a", "Controller, burst", "current", 1)}
      <ChoiceField
        label="Plug"
        value={e.plug}
        choices={choices?.plugs ?? []}
        problem={problems.get("plug")}
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
        <summary className="cursor-pointer text-xs text-ink-faint">Motor, cut-off and leads</summary>
        {field("min_v", "Lowest volts", "voltage", 0.1, false)}
        <ChoiceField
          label="Low-voltage cut-off"
          value={e.cutoff}
          choices={CUTOFFS}
          onChange={(id) => electronics("cut-off", { cutoff: id as Electronics["cutoff"] })}
        />
        {field("motor_continuous_a", "Motor", "current", 1)}
        {field("motor_burst_a", "Motor, burst", "current", 1)}
        {field("motor_kv", "Motor kV", "kv", 10)}
        <ChoiceField
          label="Motor is"
          value={String(e.brushed)}
          choices={DRAWN}
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
        <summary className="cursor-pointer text-xs text-ink-faint">Bay, air and balance</summary>
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
}
