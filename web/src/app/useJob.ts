import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useSyncExternalStore } from "react";
import { answered, client } from "@/api/client";
import type { Job, Model } from "@/api/types";
import { DocumentStore, type SaveState, storeOf } from "@/app/documentStore";
import { tellOthers } from "@/app/elsewhere";
import { modelQuery } from "@/app/queries";
import { edit } from "@/app/undo";

export type Change = (job: Job) => Job;

/** A figure that its owner changed is assumed no more. */
function withGiven(before: Job, after: Job): Job {
  const still = after.assumed.filter((path) => {
    const [part = "", name = ""] = path.split(".");
    const at = (job: Job) => (job as unknown as Record<string, Record<string, unknown>>)[part]?.[name];
    return JSON.stringify(at(before)) === JSON.stringify(at(after));
  });
  return still.length === after.assumed.length ? after : { ...after, assumed: still };
}

/** What fields need of a job: the same object until the job changes, however often it is saved. */
export type JobEditing = {
  job: Job;
  change: (label: string, change: Change, options?: { continues?: boolean }) => void;
  /** For a figure that nobody gave: says that it is right. Undefined for one that somebody gave. */
  confirm: (field: string) => (() => void) | undefined;
};

export type JobStore = {
  job: Job;
  editing: JobEditing;
  save: SaveState;
  /** After a change elsewhere in the same figures: which side counts. */
  choose: (whose: "mine" | "theirs") => void;
};

/**
 * A model's job as edited here, kept on the server shortly after each change. A drag is one change: its
 * later steps say that they continue it. What the server refuses stays on the screen, marked, and is not
 * saved.
 */
export function useJob(model: Model): JobStore {
  const { slug, job, version: made } = model;
  const queries = useQueryClient();
  const kept = useMemo(() => storeOf(`job:${slug}`, () => jobStore(queries, model)), [queries, slug, model]);
  const save = useSyncExternalStore(kept.listen, () => kept.save);
  useEffect(() => kept.seen({ value: job, version: made }), [kept, job, made]);
  useEffect(() => () => void kept.flush(), [kept]);
  const choose = useCallback((whose: "mine" | "theirs") => void kept.choose(whose), [kept]);

  const change = useCallback<JobEditing["change"]>(
    (label, changed, options) => {
      const now = queries.getQueryData(modelQuery(slug).queryKey)?.job ?? job;
      const next = withGiven(now, changed(now));
      if (JSON.stringify(next) === JSON.stringify(now)) return;
      const path = `/size/${slug}`;
      edit(kept, next, { label, path, name: model.name, continues: options?.continues });
    },
    [queries, slug, job, kept, model.name],
  );

  const confirm = useCallback<JobEditing["confirm"]>(
    (field) =>
      job.assumed.includes(field)
        ? () =>
            change("what was assumed", (now) => ({ ...now, assumed: now.assumed.filter((f) => f !== field) }))
        : undefined,
    [job.assumed, change],
  );

  const editing = useMemo(() => ({ job, change, confirm }), [job, change, confirm]);
  return useMemo(() => ({ job, editing, save, choose }), [job, editing, save, choose]);
}

/** A model's job on the server; whoever reads the model sees it as it is edited. */
function jobStore(queries: QueryClient, model: Model): DocumentStore<Job> {
  const { slug } = model;
  const path = { slug };
  const tell = (part: Partial<Model>) =>
    queries.setQueryData(modelQuery(slug).queryKey, (old: Model | undefined) =>
      old ? { ...old, ...part } : old,
    );
  return new DocumentStore<Job>(
    { value: model.job, version: model.version },
    {
      get: async () => {
        const now = await answered(client.GET("/api/models/{slug}", { params: { path } }));
        return { value: now.job as Job, version: now.version };
      },
      put: async (job, version) => {
        const header = { "If-Match": version };
        const now = await answered(
          client.PUT("/api/models/{slug}/job", { params: { path, header }, body: job }),
        );
        tell({ version: now.version });
        tellOthers(["gear"]);
        return { value: job, version: now.version };
      },
      show: (job) => tell({ job }),
    },
  );
}
