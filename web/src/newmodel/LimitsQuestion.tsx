import { useQuery } from "@tanstack/react-query";
import type { Answers } from "@/api/types";
import { CUTOFFS, MOTOR_KINDS, RATINGS } from "@/app/choices";
import { choicesQuery } from "@/app/queries";
import type { Kind } from "@/format/quantity";
import type { Asked } from "@/newmodel/answers";
import { Question } from "@/newmodel/Question";
import { ChoiceField } from "@/parts/ChoiceField";
import { NumberField } from "@/parts/NumberField";

type Limits = Answers["limits"];

/** What electronics and room may see. All of it can be left out. */
export function LimitsQuestion({ answers, problems, set }: Asked) {
  const { data: choices } = useQuery(choicesQuery);
  const { limits } = answers;
  const put = (part: Partial<Limits>) => set({ limits: { ...limits, ...part } });
  const field = (
    name: keyof Limits,
    label: string,
    kind: Kind,
    step: number,
    placeholder = "—",
    hint?: string,
  ) => (
    <NumberField
      label={label}
      kind={kind}
      step={step}
      optional
      placeholder={placeholder}
      value={limits[name] as number | null}
      problem={problems.get(`limits.${name}`)}
      hint={hint}
      onChange={(v) => put({ [name]: v })}
    />
  );
  return (
    <Question
      title="What may it see?"
      why="From the controller’s sheet. What is left out suits the pack of now, and refuses nothing."
    >
      <div className="grid gap-x-10 sm:grid-cols-2">
        {field("cells_min", "Rated from, LiPo cells", "cells", 1)}
        {field("cells_max", "Rated to, LiPo cells", "cells", 1)}
        {field("controller_a", "Controller", "current", 5)}
        {field("controllers", "How many controllers", "count", 1)}
        <ChoiceField
          label="Low-voltage cut-off"
          value={limits.cutoff ?? ""}
          choices={[{ id: "", name: "I don’t know", note: "" }, ...CUTOFFS]}
          onChange={(id) => put({ cutoff: (id || null) as Limits["cutoff"] })}
        />
        <ChoiceField
          label="The amps are for"
          value={limits.ratings}
          choices={RATINGS}
          onChange={(id) => put({ ratings: id as Limits["ratings"] })}
        />
      </div>
      <details className="mt-1">
        <summary className="min-h-6 text-small text-ink-faint">Plug, leads, room, motor</summary>
        <div className="grid gap-x-10 sm:grid-cols-2">
          <ChoiceField
            label="Plug"
            value={limits.plug ?? ""}
            choices={[{ id: "", name: "assumed", note: "" }, ...(choices?.plugs ?? [])]}
            problem={problems.get("limits.plug")}
            onChange={(id) => put({ plug: id || null })}
          />
          {field("lead_awg", "Leads", "gauge", 1)}
          {field("length_mm", "Room, length", "length", 1)}
          {field("width_mm", "Room, width", "length", 1)}
          {field("height_mm", "Room, height", "length", 1)}
          {field("motor_kv", "Motor kV", "kv", 10)}
          {field("max_v", "Highest volts, if not in cells", "voltage", 0.1)}
          <ChoiceField
            label="Motor is"
            value={String(limits.brushed)}
            choices={MOTOR_KINDS}
            onChange={(id) => put({ brushed: id === "true" })}
          />
        </div>
      </details>
    </Question>
  );
}
