import { useQuery } from "@tanstack/react-query";
import { memo } from "react";
import type { Chip, Job } from "@/api/types";
import { choicesQuery } from "@/app/queries";
import type { JobEditing } from "@/app/useJob";
import { fieldsOf } from "@/parts/fieldsOf";
import { CellChips } from "@/stages/size/job/CellChips";
import { Section } from "@/stages/size/job/Section";

type Props = {
  store: JobEditing;
  chips: Chip[] | undefined;
  problems: ReadonlyMap<string, string>;
  minds: ReadonlyMap<string, string>;
};
type Wants = Job["wants"];

export const WantsSection = memo(function WantsSection({ store, chips, problems, minds }: Props) {
  const { data: choices } = useQuery(choicesQuery);
  const { wants, electronics } = store.job;
  const set = (label: string, part: Partial<Wants>) =>
    store.change(label, (job) => ({ ...job, wants: { ...job.wants, ...part } }));
  const toggle = (id: Wants["chemistries"][number]) => {
    const has = wants.chemistries.includes(id);
    if (has && wants.chemistries.length === 1) return;
    set("chemistries", {
      chemistries: has ? wants.chemistries.filter((c) => c !== id) : [...wants.chemistries, id],
    });
  };
  const { number } = fieldsOf({ values: wants, at: "wants.", problems, put: set });
  // equipment says its hours and volts itself
  const serves = store.job.equipment !== null;
  const refitted =
    wants.lively !== null && store.job.drive !== "same" ? "refitted: the watts are kept" : undefined;
  return (
    <Section title="What I want">
      {!serves && number("minutes", "Minutes, at least", "minutes", 0.5, { words: "minutes wanted" })}
      {number("mass_g", "Pack, at most", "mass", store.job.mass_g < 300 ? 0.5 : 5, {
        words: "heaviest pack",
      })}
      {!serves &&
        number("lively", "As lively as now", "percent", 0.05, {
          words: "liveliness",
          empty: "off",
          hint: refitted,
        })}
      {!serves &&
        (electronics.motor_kv
          ? number("rpm", "Motor, at least", "rpm", 100, { words: "motor speed wanted" })
          : number("volts", "Volts, at least", "voltage", 0.1, { words: "volts wanted" }))}
      {number("runs_a_day", "Runs on a day", "count", 1, { empty: "by its log" })}
      {number("days_a_month", "Days a month", "count", 0.5, { empty: "by its log" })}
      <CellChips
        store={store}
        chips={chips}
        problem={problems.get("wants.cells")}
        mind={minds.get("wants.cells")}
      />
      <fieldset className="mt-3">
        <legend className="label text-plain">Chemistries to look at</legend>
        <div className="mt-1 flex flex-wrap gap-1">
          {choices?.chemistries.map((c) => {
            const id = c.id as Wants["chemistries"][number];
            const on = wants.chemistries.includes(id);
            return (
              <button
                key={c.id}
                type="button"
                aria-pressed={on}
                title={c.note}
                className={`min-h-6 border px-1.5 py-0.5 text-small
                  ${on ? "chosen" : "text-ink-faint hover:border-rule-strong"}`}
                onClick={() => toggle(id)}
              >
                {c.name}
              </button>
            );
          })}
        </div>
        {problems.get("wants.chemistries") && (
          <p role="alert" className="text-small text-alert">
            {problems.get("wants.chemistries")}
          </p>
        )}
      </fieldset>
    </Section>
  );
});
