import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { wordsOf } from "@/api/problem";
import { tellOthers } from "@/app/elsewhere";
import { notify } from "@/app/notices";
import { asksAnew, type Part } from "@/app/reads";
import { did, type Step, takeBack } from "@/app/undo";

export type { Part };

/** Whoever reads one of these asks anew, here and in the other pages. */
export function touched(queries: QueryClient, ...parts: Part[]): void {
  tellOthers(parts);
  asksAnew(queries, parts);
}

/** What a press does: the act, what it touches, what is said of it, how it is taken back, what is said if it
 *  fails. */
export type Verb<T = unknown> = {
  act: () => Promise<T>;
  touches: Part[];
  fails: string;
  says?: (done: T) => string;
  undo?: (done: T) => Verb & { name?: string };
  /** Where a failure is told, if not at the foot of the page. */
  onFail?: (why: string) => void;
};

/** Does it; true if it was done. How it is taken back is remembered, as what was done last unless it says
 *  otherwise. */
export async function perform<T>(
  queries: QueryClient,
  verb: Verb<T>,
  remember: (step: Step) => void = did,
): Promise<boolean> {
  let done: T;
  try {
    done = await verb.act();
  } catch (problem) {
    const why = wordsOf(problem, verb.fails);
    if (verb.onFail) verb.onFail(why);
    else notify(why, { wrong: true });
    return false;
  }
  tell(queries, verb, done, remember);
  return true;
}

/** What follows an act: who reads it asks anew, it is said, and can be taken back. */
export function tell<T>(
  queries: QueryClient,
  verb: Omit<Verb<T>, "act" | "fails">,
  done: T,
  remember: (step: Step) => void = did,
): void {
  touched(queries, ...verb.touches);
  if (!verb.says) return;
  const words = verb.says(done);
  const back = verb.undo?.(done);
  if (!back) {
    notify(words);
    return;
  }
  const step = backBy(queries, words, back);
  remember(step);
  notify(words, { act: { name: back.name ?? "Undo", run: () => void takeBack(step) } });
}

/** A step that is taken back by an act of its own, and done again by the one that takes that back. */
function backBy(queries: QueryClient, label: string, back: Verb): Step {
  return {
    label,
    take: async () => {
      let again: Step | undefined;
      const done = await perform(queries, back, (step) => {
        again = Object.assign(step, { label });
      });
      return done && again;
    },
  };
}

/** Does verbs, and tells how they went. */
export function useAct(): <T>(verb: Verb<T>) => Promise<boolean> {
  const queries = useQueryClient();
  return useCallback((verb) => perform(queries, verb), [queries]);
}
