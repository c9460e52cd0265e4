import { useId } from "react";
import type { Choice } from "@/api/types";
import { Assumed, ReadFrom } from "@/parts/NumberField";

type Props = {
  label: string;
  value: string;
  choices: readonly Choice[];
  onChange: (id: string) => void;
  problem?: string | undefined;
  /** Nobody chose this: it is drawn dashed, and can be said to be so. */
  assumed?: (() => void) | undefined;
  /** Something to mind about it that refuses nothing. */
  mind?: string | undefined;
  /** The words that it was read from. */
  read?: string | undefined;
};

/** One of a list. The browser's own list: it works with every keyboard, reader and phone. */
export function ChoiceField(props: Props) {
  const { label, value, choices, onChange, problem, assumed, mind, read } = props;
  const id = useId();
  return (
    <div className="py-0.5">
      <div className="flex items-baseline justify-between gap-2">
        <label htmlFor={id} className="label shrink-0 text-plain">
          {label}
        </label>
        <select
          id={id}
          className={`min-h-6 min-w-0 cursor-pointer border-b bg-transparent py-0.5 text-right
            hover:border-rule-strong [&>option]:bg-sheet [&>option]:text-ink
            ${assumed ? "assumed" : "border-transparent font-medium"}`}
          value={value}
          aria-invalid={problem ? true : undefined}
          onChange={(e) => onChange(e.target.value)}
        >
          {choices.map((c) => (
            <option key={c.id} value={c.id}>
              {c.name}
            </option>
          ))}
        </select>
      </div>
      {problem && (
        <p role="alert" className="text-small text-alert">
          {problem}
        </p>
      )}
      {(assumed || mind || read) && (
        <div className="text-right text-fine leading-3.5 text-ink-faint">
          {assumed && <Assumed label={label} onConfirm={assumed} />}
          {read && <ReadFrom words={read} />}
          {mind && <span className="block border-l-4 border-ink pl-2 text-left text-ink-soft">{mind}</span>}
        </div>
      )}
    </div>
  );
}
