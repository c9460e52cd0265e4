import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useRef } from "react";
import { answered, client } from "@/api/client";
import type { Job, Model } from "@/api/types";
import { DocumentStore, storeOf } from "@/app/documentStore";
import { tellOthers } from "@/app/elsewhere";
import { jobName, modelQuery } from "@/app/queries";
import type { Saving } from "@/app/SaveLine";
import { edit } from "@/app/undo";
import { useDocument } from "@/app/useDocument";

export type Change = (job: Job) => Job;

type Values = Record<string, unknown> | null | undefined;

/** A figure that its owner changed is assumed no more. */
function withGiven(before: Job, after: Job): Job {
  const still = after.assumed.filter((path) => {
    const at = (job: Job) => path.split(".").reduce<unknown>((x, name) => (x as Values)?.[name], job);
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
  /** Whether it is kept; it is heard where that is shown, and nowhere else. */
  saving: Saving;
};

/**
 * A model's job as edited here, kept on the server shortly after each change. A drag is one change: its
 * later steps say that they continue it. What the server refuses stays on the screen, marked, and is not
 * saved.
 */
export function useJob(model: Pick<Model, "slug" | "name">): JobStore {
  const { slug, name } = model;
  const queries = useQueryClient();
  const read = queries.getQueryData(modelQuery(slug).queryKey) as Model;
  const first = useRef(read).current;
  const kept = useMemo(() => storeOf(jobName(slug), () => jobStore(queries, first)), [queries, slug, first]);
  const job = useDocument(kept, { value: first.job, version: first.version });

  const change = useCallback<JobEditing["change"]>(
    (label, changed, options) => {
      const now = kept.value;
      const next = withGiven(now, changed(now));
      if (JSON.stringify(next) === JSON.stringify(now)) return;
      const path = `/size/${slug}`;
      edit(kept, next, { label, path, name, continues: options?.continues });
    },
    [slug, kept, name],
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
  return useMemo(() => ({ job, editing, saving: kept }), [job, editing, kept]);
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
