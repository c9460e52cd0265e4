import type { ReactNode } from "react";

/** A figure that can be left out. */
export const NONE = { empty: "—" };

type Props = { title: string; why: string; children: ReactNode };

/** One question, with a sentence of why it is asked. */
export function Question({ title, why, children }: Props) {
  return (
    <fieldset className="mt-5 border-t pt-3">
      <legend className="float-left mb-0 w-full text-lead font-semibold">{title}</legend>
      <p className="clear-both mb-2 max-w-prose text-small text-ink-faint">{why}</p>
      {children}
    </fieldset>
  );
}

/** One of a few words, as a row of presses. */
export function OneOf<T extends string>(props: {
  label: string;
  value: T;
  choices: readonly { id: T; name: string }[];
  onChange: (id: T) => void;
}) {
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
            name={props.label}
            checked={c.id === props.value}
            onChange={() => props.onChange(c.id)}
          />
          {c.name}
        </label>
      ))}
    </div>
  );
}
