import { useQuery } from "@tanstack/react-query";
import type { Answers } from "@/api/types";
import { choicesQuery } from "@/app/queries";
import type { Asked } from "@/newmodel/answers";
import { Question } from "@/newmodel/Question";
import { ChoiceField } from "@/parts/ChoiceField";
import { NumberField } from "@/parts/NumberField";

type Goals = Answers["goals"];

/** What is wanted of a pack. */
export function GoalsQuestion({ answers, problems, set }: Asked) {
  const { data: choices } = useQuery(choicesQuery);
  const { goals } = answers;
  const put = (part: Partial<Goals>) => set({ goals: { ...goals, ...part } });
  return (
    <Question
      title="What do you want?"
      why="Leave out what does not matter; all of it can be changed by dragging later."
    >
      <div className="grid gap-x-10 sm:grid-cols-2">
        <NumberField
          label="Minutes, at least"
          kind="minutes"
          step={0.5}
          optional
          value={goals.minutes}
          problem={problems.get("goals.minutes")}
          onChange={(minutes) => put({ minutes })}
        />
        <NumberField
          label="Pack, at most"
          kind="mass"
          step={5}
          optional
          value={goals.mass_g}
          problem={problems.get("goals.mass_g")}
          onChange={(mass_g) => put({ mass_g })}
        />
        <NumberField
          label="As lively as now, at least"
          kind="percent"
          step={0.05}
          optional
          placeholder="off"
          value={goals.lively}
          problem={problems.get("goals.lively")}
          hint="full-stick watts against those on the pack of now"
          onChange={(lively) => put({ lively })}
        />
        <ChoiceField
          label="Chemistry"
          value={goals.chemistry ?? ""}
          choices={[{ id: "", name: "as now", note: "" }, ...(choices?.chemistries ?? [])]}
          problem={problems.get("goals.chemistry")}
          onChange={(id) => put({ chemistry: (id || null) as Goals["chemistry"] })}
        />
      </div>
    </Question>
  );
}
