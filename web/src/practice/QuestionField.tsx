import type { PracticeQuestion } from "@/api/types";
import type { Kind } from "@/format/quantity";
import { NumberField } from "@/parts/NumberField";
import { OneOf } from "@/parts/OneOf";
import type { Said } from "@/practice/queries";

type Props = {
  question: PracticeQuestion;
  said: Said[string] | undefined;
  problem: string | undefined;
  onSay: (said: Said[string] | undefined) => void;
};

const KINDS: Record<string, Kind> = { "": "count", V: "voltage", A: "amps_set", Wh: "energy" };

/** One thing asked: a number with its unit, one of a few, or all of them in order. */
export function QuestionField({ question, said, problem, onSay }: Props) {
  const { asks, words } = question;
  if (asks.shape === "number")
    return (
      <NumberField
        label={words}
        kind={KINDS[asks.unit] ?? "count"}
        value={typeof said === "number" ? said : null}
        step={asks.step}
        placeholder="—"
        problem={problem}
        onChange={(value) => onSay(value ?? undefined)}
      />
    );
  return (
    <fieldset>
      <legend className="heading mb-1">{words}</legend>
      {asks.shape === "order" ? (
        <InOrder
          options={asks.options}
          ids={Array.isArray(said) ? said : asks.options.map((o) => o.id)}
          onChange={onSay}
        />
      ) : (
        <OneOf label={words} value={typeof said === "string" ? said : ""} choices={asks.options} onChange={onSay} />
      )}
      {problem && <p className="mt-1 text-small text-alert">{problem}</p>}
    </fieldset>
  );
}

type OrderProps = {
  options: readonly { id: string; name: string }[];
  ids: string[];
  onChange: (ids: string[]) => void;
};

/** All of them, to be moved up and down. */
function InOrder({ options, ids, onChange }: OrderProps) {
  const names = new Map(options.map((o) => [o.id, o.name]));
  const move = (from: number, to: number) => {
    const next = [...ids];
    const [one] = next.splice(from, 1);
    if (one !== undefined) next.splice(to, 0, one);
    onChange(next);
  };
  return (
    <ol className="divide-y border-y">
      {ids.map((id, i) => (
        <li key={id} className="flex items-center gap-2 py-1">
          <span className="number w-5 font-semibold">{i + 1}</span>
          <span className="flex-1">{names.get(id)}</span>
          <button
            type="button"
            className="control min-h-8 px-2"
            aria-label={`${names.get(id)}: earlier`}
            disabled={i === 0}
            onClick={() => move(i, i - 1)}
          >
            ↑
          </button>
          <button
            type="button"
            className="control min-h-8 px-2"
            aria-label={`${names.get(id)}: later`}
            disabled={i === ids.length - 1}
            onClick={() => move(i, i + 1)}
          >
            ↓
          </button>
        </li>
      ))}
    </ol>
  );
}
