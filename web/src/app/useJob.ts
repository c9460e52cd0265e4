import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from "react";
import { answered, client } from "@/api/client";
import { ApiProblem, wordsOf } from "@/api/problem";
import type { Job, Model } from "@/api/types";
import { modelQuery } from "@/app/queries";

export type SaveState = { at: "saved" } | { at: "saving" } | { at: "failed"; why: string };
export type Change = (job: Job) => Job;

const SAVE_AFTER_MS = 500;
const RETRY_AFTER_MS = 3000;

/** Undo and redo stacks by model; they outlive a change of model, not a reload. */
type Past = { done: { label: string; job: Job }[]; undone: { label: string; job: Job }[] };
const pasts = new Map<string, Past>();
const listeners = new Set<() => void>();
let version = 0;

function pastOf(slug: string): Past {
  let past = pasts.get(slug);
  if (!past) {
    past = { done: [], undone: [] };
    pasts.set(slug, past);
  }
  return past;
}

function changed(): void {
  version += 1;
  for (const listener of listeners) listener();
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** A figure that its owner changed is assumed no more. */
function withGiven(before: Job, after: Job): Job {
  const still = after.assumed.filter((path) => {
    const [part = "", name = ""] = path.split(".");
    const at = (job: Job) => (job as unknown as Record<string, Record<string, unknown>>)[part]?.[name];
    return JSON.stringify(at(before)) === JSON.stringify(at(after));
  });
  return still.length === after.assumed.length ? after : { ...after, assumed: still };
}

export type JobStore = {
  job: Job;
  change: (label: string, change: Change, options?: { continues?: boolean }) => void;
  /** For a figure that nobody gave: says that it is right. Undefined for one that somebody gave. */
  confirm: (field: string) => (() => void) | undefined;
  undo: () => void;
  redo: () => void;
  undoLabel: string | undefined;
  redoLabel: string | undefined;
  save: SaveState;
};

/**
 * A model's job as edited here, kept on the server shortly after each change. A drag is one change: its later steps
 * say that they continue it. What the server refuses stays on the screen, marked, and is not saved.
 */
export function useJob(model: Model): JobStore {
  const { slug, job } = model;
  const queries = useQueryClient();
  const [save, setSave] = useState<SaveState>({ at: "saved" });
  const timer = useRef<number | undefined>(undefined);
  const waiting = useRef<{ slug: string; job: Job } | undefined>(undefined);
  useSyncExternalStore(subscribe, () => version);

  const flush = useCallback(async () => {
    window.clearTimeout(timer.current);
    const next = waiting.current;
    if (!next) return;
    waiting.current = undefined;
    try {
      await answered(
        client.PUT("/api/models/{slug}/job", { params: { path: { slug: next.slug } }, body: next.job }),
      );
      if (!waiting.current) setSave({ at: "saved" });
    } catch (problem) {
      if (waiting.current) return; // a newer job is on its way
      setSave({ at: "failed", why: wordsOf(problem, "Not saved.") });
      if (problem instanceof ApiProblem && problem.status === 0) {
        // the line is down, the job is sound: it is sent again until it is kept
        waiting.current = next;
        timer.current = window.setTimeout(() => void flush(), RETRY_AFTER_MS);
      }
    }
  }, []);

  const put = useCallback(
    (next: Job) => {
      queries.setQueryData(modelQuery(slug).queryKey, (old: Model | undefined) =>
        old ? { ...old, job: next } : old,
      );
      waiting.current = { slug, job: next };
      setSave({ at: "saving" });
      window.clearTimeout(timer.current);
      timer.current = window.setTimeout(() => void flush(), SAVE_AFTER_MS);
    },
    [queries, slug, flush],
  );

  useEffect(() => {
    const leave = () => void flush();
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("pagehide", leave);
      leave();
    };
  }, [flush]);

  const change = useCallback<JobStore["change"]>(
    (label, edit, options) => {
      const now = queries.getQueryData(modelQuery(slug).queryKey)?.job ?? job;
      const next = withGiven(now, edit(now));
      if (JSON.stringify(next) === JSON.stringify(now)) return;
      const past = pastOf(slug);
      if (!options?.continues) past.done.push({ label, job: now });
      past.undone = [];
      put(next);
      changed();
    },
    [queries, slug, job, put],
  );

  const confirm = useCallback<JobStore["confirm"]>(
    (field) =>
      job.assumed.includes(field)
        ? () =>
            change("what was assumed", (now) => ({ ...now, assumed: now.assumed.filter((f) => f !== field) }))
        : undefined,
    [job.assumed, change],
  );

  const step = useCallback(
    (from: "done" | "undone", to: "done" | "undone") => {
      const past = pastOf(slug);
      const entry = past[from].pop();
      const now = queries.getQueryData(modelQuery(slug).queryKey)?.job;
      if (!entry || !now) return;
      past[to].push({ label: entry.label, job: now });
      put(entry.job);
      changed();
    },
    [queries, slug, put],
  );

  const undo = useCallback(() => step("done", "undone"), [step]);
  const redo = useCallback(() => step("undone", "done"), [step]);
  const past = pastOf(slug);
  const undoLabel = past.done.at(-1)?.label;
  const redoLabel = past.undone.at(-1)?.label;
  return useMemo(
    () => ({ job, change, confirm, undo, redo, undoLabel, redoLabel, save }),
    [job, change, confirm, undo, redo, undoLabel, redoLabel, save],
  );
}
