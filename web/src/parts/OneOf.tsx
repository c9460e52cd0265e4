import { useId } from "react";

/** One of a few words, as a row of presses. */
export function OneOf<T extends string>(props: {
  label: string;
  value: T;
  choices: readonly { id: T; name: string }[];
  onChange: (id: T) => void;
}) {
  const name = useId();
  return (
    <div role="radiogroup" aria-label={props.label} className="flex flex-wrap gap-1.5">
      {props.choices.map((c) => (
        <label
          key={c.id}
          className={`chosen-label cursor-pointer border px-2.5 py-1
            ${c.id === props.value ? "chosen" : "border-rule-strong text-ink-soft hover:border-ink-soft"}`}
        >
          <input
            type="radio"
            className="sr-only"
            name={name}
            checked={c.id === props.value}
            onChange={() => props.onChange(c.id)}
          />
          {c.name}
        </label>
      ))}
    </div>
  );
}
