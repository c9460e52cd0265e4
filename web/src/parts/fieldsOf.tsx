import type { ReactElement } from "react";
import type { Choice } from "@/api/types";
import type { Kind } from "@/format/quantity";
import { ChoiceField } from "@/parts/ChoiceField";
import { type Back, NumberField } from "@/parts/NumberField";

/** Figures that are asked together: where they stand, what is wrong with them, and how one is changed. */
type Asked<T> = {
  values: T;
  /** Before the name of each, in the paths of problems and of what is assumed: "wants.". */
  at: string;
  problems: ReadonlyMap<string, string>;
  put: (words: string, part: Partial<T>) => void;
  assumed?: (path: string) => (() => void) | undefined;
  /** What looks like a slip, by its path. */
  asked?: ((path: string) => Back | undefined) | undefined;
};

type More<T, V> = {
  /** What the change is called, to be undone; else as its label. */
  words?: string;
  hint?: string | undefined;
  problem?: string | undefined;
  /** What changes with it; else it alone. */
  part?: (value: V) => Partial<T>;
};
type MoreOfNumber<T> = More<T, number | null> & {
  assumed?: (() => void) | undefined;
  /** Asked even where nobody needs to say; shown in its place while nobody did. */
  empty?: string;
  given?: boolean;
};

/**
 * Rows of a form over one part of a document. Each is told once: its name in the document, its label, what
 * it is, and by how much its steppers change it.
 */
export function fieldsOf<T extends object>({ values, at, problems, put, assumed: saidOf, asked }: Asked<T>) {
  const number = (
    name: keyof T & string,
    label: string,
    kind: Kind,
    step: number,
    { words, hint, problem, part, assumed, empty = "", given = false }: MoreOfNumber<T> = {},
  ): ReactElement => (
    <NumberField
      key={name}
      label={label}
      kind={kind}
      step={step}
      value={values[name] as number | null}
      optional={!given}
      {...(empty ? { placeholder: empty } : {})}
      problem={problem ?? problems.get(at + name)}
      hint={hint}
      assumed={assumed ?? saidOf?.(at + name)}
      asked={asked?.(at + name)}
      onChange={(v) => {
        if (v === null && given) return;
        put(words ?? label.toLowerCase(), part ? part(v) : ({ [name]: v } as Partial<T>));
      }}
    />
  );
  const choice = (
    name: keyof T & string,
    label: string,
    choices: readonly Choice[],
    { words, problem, part }: More<T, string> = {},
  ): ReactElement => (
    <ChoiceField
      key={name}
      label={label}
      value={String(values[name] ?? "")}
      choices={choices}
      problem={problem ?? problems.get(at + name)}
      assumed={saidOf?.(at + name)}
      onChange={(id) => put(words ?? label.toLowerCase(), part ? part(id) : ({ [name]: id } as Partial<T>))}
    />
  );
  return { number, choice };
}
