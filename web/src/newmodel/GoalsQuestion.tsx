import { useQuery } from "@tanstack/react-query";
import type { Answers } from "@/api/types";
import { choicesQuery } from "@/app/queries";
import type { Asked } from "@/newmodel/answers";
import { Question } from "@/newmodel/Question";
import { fieldsOf } from "@/parts/fieldsOf";

type Goals = Answers["goals"];

/** What is wanted of a pack. */
export function GoalsQuestion({ answers, problems, asked, set }: Asked) {
  const { data: choices } = useQuery(choicesQuery);
  const { goals } = answers;
  const put = (part: Partial<Goals>) => set({ goals: { ...goals, ...part } });
  const { number, choice } = fieldsOf({
    asked,
    values: goals,
    at: "goals.",
    problems,
    put: (_, part) => put(part),
  });
  return (
    <Question
      title="What do you want?"
      why="Leave out what does not matter; all of it can be changed by dragging later."
    >
      <div className="grid gap-x-10 sm:grid-cols-2">
        {number("minutes", "Minutes, at least", "minutes", 0.5)}
        {number("mass_g", "Pack, at most", "mass", 5)}
        {number("lively", "As lively as now, at least", "percent", 0.05, {
          empty: "off",
          hint: "full-stick watts against those on the pack of now",
        })}
        {choice(
          "chemistry",
          "Chemistry",
          [{ id: "", name: "as now", note: "" }, ...(choices?.chemistries ?? [])],
          {
            part: (id) => ({ chemistry: (id || null) as Goals["chemistry"] }),
          },
        )}
      </div>
    </Question>
  );
}
