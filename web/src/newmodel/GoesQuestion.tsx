import type { Answers } from "@/api/types";
import type { Asked } from "@/newmodel/NewModelScreen";
import { OneOf, Question } from "@/newmodel/Question";
import { NumberField } from "@/ui/NumberField";

const TOLD = [
  { id: "minutes", name: "Minutes to landing" },
  { id: "put_back", name: "mAh put back" },
  { id: "amps", name: "Amps by a meter" },
  { id: "unknown", name: "I don’t know yet" },
] as const;

type Goes = Answers["goes"];

/** How that goes: whichever figure its owner has. */
export function GoesQuestion({ answers, problems, set }: Asked) {
  const { goes } = answers;
  const put = (part: Partial<Goes>) => set({ goes: { ...goes, ...part } });
  const field = (
    name: keyof Omit<Goes, "told">,
    label: string,
    kind: "minutes" | "charge" | "current" | "seconds",
    step: number,
    placeholder = "—",
  ) => (
    <NumberField
      key={name}
      label={label}
      kind={kind}
      step={step}
      optional
      placeholder={placeholder}
      value={goes[name]}
      problem={problems.get(`goes.${name}`)}
      onChange={(v) => put({ [name]: v })}
    />
  );
  return (
    <Question
      title="How does that go?"
      why="Any one of these gives the draw; the log of your runs makes it better later."
    >
      <OneOf
        label="What you know of it"
        value={goes.told}
        choices={TOLD}
        onChange={(told) => put({ told })}
      />
      <div className="mt-1.5 grid gap-x-10 sm:grid-cols-2">
        {goes.told === "minutes" && field("minutes", "Minutes to landing", "minutes", 0.5)}
        {goes.told === "put_back" && field("put_back_mah", "A charge puts back", "charge", 50)}
        {goes.told === "put_back" && field("minutes", "After minutes", "minutes", 0.5)}
        {goes.told === "amps" && field("average_a", "Average", "current", 0.5)}
        {field("peak_a", "Peak, full stick", "current", 1)}
        {field("peak_s", "Peak lasts", "seconds", 1)}
      </div>
      {goes.told === "unknown" && (
        <p className="mt-1 text-small text-ink-faint">
          Then it is estimated from its mass, with a wide range, until you know minutes, mAh or amps.
        </p>
      )}
    </Question>
  );
}
