import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { ApiProblem, wordsOf } from "@/api/problem";
import type { BenchLayout, LaidAsk } from "@/api/types";
import { benchQuery, keepBench } from "@/stages/charge/queries";

const SAVE_AFTER_MS = 500;
const RETRY_AFTER_MS = 3000;

export type BenchStore = {
  bench: BenchLayout;
  /** A change under a name, for undo; changes of one field while it is typed in count as one. */
  change: (label: string, next: Partial<BenchLayout>, options?: { continues?: boolean }) => void;
  changePack: (pack: string, next: Partial<LaidAsk>) => void;
  undo: () => void;
  /** Take what the server has now: a charge that ended noted its volts there. */
  refresh: () => Promise<void>;
  undoLabel: string | undefined;
  unsaved: string | undefined;
};

/** The layout as edited here, kept on the server shortly after each change; what is typed stays whatever the server says. */
export function useBench(kept: BenchLayout): BenchStore {
  const queries = useQueryClient();
  const [bench, setBench] = useState(kept);
  const [past, setPast] = useState<{ label: string; bench: BenchLayout }[]>([]);
  const [unsaved, setUnsaved] = useState<string | undefined>();
  const timer = useRef<number | undefined>(undefined);
  const waiting = useRef<BenchLayout | undefined>(undefined);

  const flush = useCallback(async () => {
    window.clearTimeout(timer.current);
    const next = waiting.current;
    if (!next) return;
    waiting.current = undefined;
    try {
      await keepBench(next);
      setUnsaved(undefined);
    } catch (problem) {
      setUnsaved(wordsOf(problem, "Not saved."));
      if (problem instanceof ApiProblem && problem.status === 0 && !waiting.current) {
        waiting.current = next;
        timer.current = window.setTimeout(() => void flush(), RETRY_AFTER_MS);
      }
    }
  }, []);

  useEffect(() => {
    const leave = () => void flush();
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("pagehide", leave);
      leave();
    };
  }, [flush]);

  const put = useCallback(
    (next: BenchLayout) => {
      setBench(next);
      queries.setQueryData(benchQuery.queryKey, next);
      waiting.current = next;
      window.clearTimeout(timer.current);
      timer.current = window.setTimeout(() => void flush(), SAVE_AFTER_MS);
    },
    [queries, flush],
  );

  const change = useCallback<BenchStore["change"]>(
    (label, next, options) => {
      const now = queries.getQueryData(benchQuery.queryKey) ?? kept;
      setPast((old) =>
        options?.continues && old.at(-1)?.label === label ? old : [...old, { label, bench: now }].slice(-50),
      );
      put({ ...now, ...next });
    },
    [queries, kept, put],
  );

  const changePack = useCallback<BenchStore["changePack"]>(
    (pack, next) => {
      const now = queries.getQueryData(benchQuery.queryKey) ?? kept;
      const laid = now.laid.map((x) => (x.pack === pack ? { ...x, ...next } : x));
      const what = Object.keys(next)[0] ?? "";
      change(`${what} of ${pack.replace("owned:", "")}`, { laid }, { continues: true });
    },
    [queries, kept, change],
  );

  const undo = useCallback(() => {
    setPast((old) => {
      const entry = old.at(-1);
      if (entry) put(entry.bench);
      return old.slice(0, -1);
    });
  }, [put]);

  const refresh = useCallback(async () => {
    await flush();
    setBench(await queries.fetchQuery({ ...benchQuery, staleTime: 0 }));
  }, [queries, flush]);

  const undoLabel = past.at(-1)?.label;
  return useMemo(
    () => ({ bench, change, changePack, undo, refresh, undoLabel, unsaved }),
    [bench, change, changePack, undo, refresh, undoLabel, unsaved],
  );
}
