import { useQuery } from "@tanstack/react-query";
import { memo } from "react";
import type { Job } from "@/api/types";
import { CUTOFFS, MOTOR_KINDS, RATINGS } from "@/app/choices";
import { choicesQuery } from "@/app/queries";
import type { JobEditing } from "@/app/useJob";
import { bare, worded } from "@/format/quantity";
import { fieldsOf } from "@/parts/fieldsOf";
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
  const inJob = (label: string, part: Partial<Job>) => store.change(label, (job) => ({ ...job, ...part }));
  const inBay = (label: string, part: Partial<Bay>) =>
    store.change(label, (job) => ({ ...job, bay: { ...job.bay, ...part } }));
  const limits = fieldsOf({
    values: e,
    at: "electronics.",
    problems,
    put: electronics,
    assumed: store.confirm,
  });
  const room = fieldsOf({ values: bay, at: "bay.", problems, put: inBay });
  const whole = fieldsOf({ values: store.job, at: "", problems, put: inJob });
  return (
    <Section title="What it can take">
      {limits.number("rated_from", "Rated from, LiPo cells", "cells", 1, {
        words: "fewest cells",
        empty: "—",
        part: (v) => ({ rated_from: v, min_v: v === null ? 0 : null }),
      })}
      {limits.number("rated_cells", "Rated to, LiPo cells", "cells", 1, {
        words: "most cells",
        empty: "—",
        problem: problems.get("electronics.rated_cells") ?? problems.get("electronics.max_v"),
        assumed: store.confirm("electronics.max_v"),
        hint: window && voltsWords(window),
        part: (v) => ({ rated_cells: v, max_v: v === null ? (window?.max_v ?? e.max_v) : null }),
      })}
      {limits.number("controller_continuous_a", several ? "Controller, each" : "Controller", "current", 1)}
      {limits.number("controller_burst_a", several ? "Burst, each" : "Controller, burst", "current", 1)}
      {limits.number("controllers", "Controllers", "count", 1, { given: true })}
      {e.controllers > 1 &&
        limits.choice("controller_ratings", "The amps are for", RATINGS, { words: "what the amps are for" })}
      {limits.choice("plug", "Plug", choices?.plugs ?? [], { problem: problems.get("plug") })}
      {whole.number("mass_g", "Mass without the pack", "mass", 10, {
        given: true,
        assumed: store.confirm("mass_g"),
      })}
      <details className="mt-1">
        <summary className="min-h-6 text-small text-ink-faint">Motor, cut-off and leads</summary>
        {limits.number("max_v", "Highest volts, not in cells", "voltage", 0.1, {
          words: "highest volts",
          empty: "by cells",
          problem: "",
          part: (v) => (v === null ? {} : { max_v: v, rated_cells: null }),
        })}
        {limits.number("min_v", "Lowest volts, not in cells", "voltage", 0.1, {
          words: "lowest volts",
          empty: "by cells",
          part: (v) => ({ min_v: v ?? 0, rated_from: null }),
        })}
        {limits.choice("cutoff", "Low-voltage cut-off", CUTOFFS, { words: "cut-off" })}
        {limits.number("motor_continuous_a", "Motor", "current", 1)}
        {limits.number("motor_burst_a", "Motor, burst", "current", 1)}
        {limits.number("motor_kv", "Motor kV", "kv", 10)}
        {limits.number("motors", "Motors", "count", 1, { given: true })}
        {e.motors > 1 &&
          limits.choice("motor_ratings", "Its amps are for", RATINGS, {
            words: "what the motor’s amps are for",
          })}
        {limits.choice("brushed", "Motor is", MOTOR_KINDS, {
          words: "motor kind",
          part: (id) => ({ brushed: id === "true" }),
        })}
        {limits.number("lead_awg", "Model’s leads", "gauge", 1, { given: true })}
        {limits.number("lead_length_mm", "Length of the leads", "length", 5, { given: true })}
        {whole.choice("motion", "It moves by", choices?.motions ?? [], { words: "how it moves" })}
      </details>
      <details className="mt-1">
        <summary className="min-h-6 text-small text-ink-faint">Bay, air and balance</summary>
        {room.number("length_mm", "Bay length", "length", 1)}
        {room.number("width_mm", "Bay width", "length", 1)}
        {room.number("height_mm", "Bay height", "length", 1)}
        {room.choice("airflow", "Air", choices?.airflows ?? [], { words: "airflow" })}
        {room.number("air_c", "Air temperature", "temperature", 1, { given: true })}
        {room.number("pack_c", "Pack at the start", "temperature", 1)}
        {room.number("balance_at_mm", "Balance point wanted", "length", 1)}
        {room.number("empty_balance_mm", "Balances without pack at", "length", 1)}
        {room.number("centre_mm", "Middle of the bay at", "length", 1)}
      </details>
    </Section>
  );
});
