import type { Answers } from "@/api/types";
import type { Asked } from "@/newmodel/answers";
import { Question } from "@/newmodel/Question";
import { NumberField } from "@/parts/NumberField";

type Usage = Answers["usage"];

/** How that usage: whichever figures its owner has; none is fine too. */
export function UsageQuestion({ answers, problems, set }: Asked) {
  const { usage } = answers;
  const put = (part: Partial<Usage>) => set({ usage: { ...usage, ...part } });
  const field = (
    name: keyof Usage,
    label: string,
    kind: "minutes" | "charge" | "current" | "seconds",
    step: number,
    hint?: string,
  ) => (
    <NumberField
      label={label}
      kind={kind}
      step={step}
      optional
      placeholder="—"
      value={usage[name]}
      problem={problems.get(`usage.${name}`)}
      hint={hint}
      onChange={(v) => put({ [name]: v })}
    />
  );
  return (
    <Question
      title="How does that go?"
      why="Each figure that you tell makes the answer surer. Without any its class tells, in a wide range."
    >
      <div className="grid gap-x-10 sm:grid-cols-2">
        {field("minutes", "Minutes to landing", "minutes", 0.5, "or of the run that was charged after")}
        {field("put_back_mah", "A charge then puts back", "charge", 50)}
        {field("average_a", "Average", "current", 0.5, "by a meter")}
        {field("peak_a", "Peak, full stick", "current", 1)}
        {field("peak_s", "Peak lasts", "seconds", 1)}
      </div>
    </Question>
  );
}
