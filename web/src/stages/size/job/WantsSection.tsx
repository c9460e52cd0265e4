import { useQuery } from "@tanstack/react-query";
import { memo } from "react";
import type { Chip, Job } from "@/api/types";
import { choicesQuery } from "@/app/queries";
import type { JobEditing } from "@/app/useJob";
import { NumberField } from "@/parts/NumberField";
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
  return (
    <Section title="What I want">
      <NumberField
        label="Minutes, at least"
        kind="minutes"
        value={wants.minutes}
        step={0.5}
        optional
        problem={problems.get("wants.minutes")}
        onChange={(v) => set("minutes wanted", { minutes: v })}
      />
      <NumberField
        label="Pack, at most"
        kind="mass"
        value={wants.mass_g}
        step={store.job.mass_g < 300 ? 0.5 : 5}
        optional
        problem={problems.get("wants.mass_g")}
        onChange={(v) => set("heaviest pack", { mass_g: v })}
      />
      <NumberField
        label="As lively as now"
        kind="percent"
        value={wants.lively}
        step={0.05}
        optional
        placeholder="off"
        problem={problems.get("wants.lively")}
        hint={
          wants.lively !== null && store.job.drive !== "same" ? "refitted: the watts are kept" : undefined
        }
        onChange={(v) => set("liveliness", { lively: v })}
      />
      {electronics.motor_kv ? (
        <NumberField
          label="Motor, at least"
          kind="rpm"
          value={wants.rpm}
          step={100}
          optional
          problem={problems.get("wants.rpm")}
          onChange={(v) => set("motor speed wanted", { rpm: v })}
        />
      ) : (
        <NumberField
          label="Volts, at least"
          kind="voltage"
          value={wants.volts}
          step={0.1}
          optional
          problem={problems.get("wants.volts")}
          onChange={(v) => set("volts wanted", { volts: v })}
        />
      )}
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
