import type { Answers } from "@/api/types";
import { PropulsionFields } from "@/gear/PropulsionFields";
import type { Asked } from "@/newmodel/answers";
import { NONE, Question } from "@/newmodel/Question";
import { fieldsOf } from "@/parts/fieldsOf";

type Usage = Answers["usage"];
type Limits = Answers["limits"];

/** How that goes: whichever figures its owner has; none is fine too, and what drives it then tells. */
export function UsageQuestion({ answers, problems, asked, set }: Asked) {
  const { usage, limits, propulsion } = answers;
  const put = (part: Partial<Usage>) => set({ usage: { ...usage, ...part } });
  const { number } = fieldsOf({ asked, values: usage, at: "usage.", problems, put: (_, part) => put(part) });
  const motor = fieldsOf({
    asked,
    values: limits,
    at: "limits.",
    problems,
    put: (_, part: Partial<Limits>) => set({ limits: { ...limits, ...part } }),
  });
  return (
    <Question
      title="How does that go?"
      why="Each figure that you tell makes the answer surer. Without any its class tells, in a wide range."
    >
      <div className="grid gap-x-10 sm:grid-cols-2">
        {number("minutes", "Minutes to landing", "minutes", 0.5, {
          empty: "—",
          hint: "or of the run that was charged after",
        })}
        {number("put_back_mah", "A charge then puts back", "charge", 50, NONE)}
        {number("average_a", "Average", "current", 0.5, { empty: "—", hint: "by a meter" })}
        {number("peak_a", "Peak, full stick", "current", 1, NONE)}
        {number("peak_s", "Peak lasts", "seconds", 1, NONE)}
      </div>
      {answers.kind !== "" && (
        <div className="mt-3">
          <h2 className="heading mb-1">No meter, no minutes? What drives it</h2>
          <PropulsionFields
            kind={answers.kind}
            values={propulsion}
            problems={problems}
            asked={asked}
            put={(_, part) => set({ propulsion: { ...propulsion, ...part } })}
            kv={motor.number("motor_kv", "Motor kV", "kv", 10, NONE)}
          />
        </div>
      )}
    </Question>
  );
}
