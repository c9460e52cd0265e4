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
