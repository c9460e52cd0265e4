import type { PracticeJudged, PracticeQuestion } from "@/api/types";
import type { Kind } from "@/format/quantity";
import { NumberField } from "@/parts/NumberField";
import { OneOf } from "@/parts/OneOf";
import { InOrder } from "@/practice/InOrder";
import type { Said } from "@/practice/queries";

type Came = PracticeJudged["came"][number];
type Props = {
  question: PracticeQuestion;
  said: Said[string] | undefined;
  problem: string | undefined;
  came: Came | undefined;
  onSay: (said: Said[string] | undefined) => void;
};

const KINDS: Record<string, Kind> = { "": "count", V: "voltage", A: "amps_set", Wh: "energy" };

/** One thing asked: a number with its unit, one of a few, or all of them in order; and what came of it. */
export function QuestionField({ question, said, problem, came, onSay }: Props) {
  const { asks, words, id } = question;
  if (asks.shape === "number")
    return (
      <fieldset disabled={came !== undefined} className="min-w-0">
        <NumberField
          label={words}
          kind={KINDS[asks.unit] ?? "count"}
          value={typeof said === "number" ? said : null}
          step={asks.step}
          optional
          placeholder="—"
          problem={problem}
          onChange={(value) => onSay(value ?? undefined)}
        />
        <Mark came={came} />
      </fieldset>
    );
  return (
    <fieldset disabled={came !== undefined} aria-describedby={problem ? `${id}-problem` : undefined}>
      <legend className="label mb-1.5 text-plain">{words}</legend>
      {asks.shape === "order" ? (
        <InOrder
          options={asks.options}
          ids={Array.isArray(said) ? said : asks.options.map((o) => o.id)}
          onChange={onSay}
        />
      ) : (
        <OneOf
          label={words}
          value={typeof said === "string" ? said : ""}
          choices={asks.options}
          onChange={onSay}
        />
      )}
      {problem && (
        <p id={`${id}-problem`} role="alert" className="mt-1 text-small text-alert">
          {problem}
        </p>
      )}
      <Mark came={came} />
    </fieldset>
  );
}

const WORDS = { wasteful: "Not so", dangerous: "Dangerous" };

/** What came of this one answer: a word, why, and what would have been right. */
function Mark({ came }: { came: Came | undefined }) {
  if (!came) return null;
  const bad = came.outcome === "dangerous";
  return (
    <div className={`mt-1.5 border-l-4 pl-3 ${bad ? "border-alert" : "border-rule-strong"}`}>
      <p>
        {came.outcome !== "right" && <b className={bad ? "text-alert" : ""}>{WORDS[came.outcome]}. </b>}
        {came.sentence}
      </p>
      {came.outcome !== "right" && (
        <p className="text-small text-ink-soft">
          Right would be: <b>{came.right}</b>
        </p>
      )}
    </div>
  );
}
