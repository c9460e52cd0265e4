import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { fieldsOf } from "@/api/problem";
import type { RuleSet } from "@/api/types";
import { changeSet, rulesChanged } from "@/rules/queries";

type Draft = { values: Record<string, number>; name: string; note: string };
const SAVE_AFTER_MS = 350;

/** A set as edited here: kept shortly after each change; what is refused stays on the screen with its reason, and is not kept. */
export function useSet(set: RuleSet) {
  const queries = useQueryClient();
  const kept = useCallback(
    (): Draft => ({ values: set.values, name: set.name, note: set.own ? set.why : "" }),
    [set],
  );
  const [draft, setDraft] = useState<Draft>(kept);
  const [problems, setProblems] = useState<ReadonlyMap<string, string>>(new Map());
  const [past, setPast] = useState<{ label: string; draft: Draft }[]>([]);
  const timer = useRef<number | undefined>(undefined);
  const waiting = useRef<Draft | undefined>(undefined);

  const flush = useCallback(async () => {
    window.clearTimeout(timer.current);
    const next = waiting.current;
    if (!next) return;
    waiting.current = undefined;
    try {
      await changeSet(set.id, set.own ? next : { values: next.values });
      setProblems(new Map());
      rulesChanged(queries);
    } catch (problem) {
      if (waiting.current) return; // a newer one is on its way
      setProblems(fieldsOf(problem, "Not kept: the server does not answer."));
    }
  }, [set.id, set.own, queries]);

  useEffect(() => () => void flush(), [flush]);

  const put = (next: Draft) => {
    setDraft(next);
    waiting.current = next;
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => void flush(), SAVE_AFTER_MS);
  };
  const change = (label: string, part: Partial<Draft>) => {
    setPast((old) => (old.at(-1)?.label === label ? old : [...old, { label, draft }]));
    put({ ...draft, ...part });
  };
  const undo = () => {
    const last = past.at(-1);
    if (!last) return;
    setPast(past.slice(0, -1));
    put(last.draft);
  };
  return { draft, change, undo, undoLabel: past.at(-1)?.label, problems };
}
