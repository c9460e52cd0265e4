import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { Aim, Detail, Job, Model, Plan } from "@/api/types";
import { modelQuery } from "@/app/queries";
import { queries } from "@/app/queryClient";

const KEPT_MS = 60_000;
const reads = { reads: ["life" as const, "gear" as const, "rules" as const] };

/** A plan, and with it the picked pack, or the best, in full. */
export const planQuery = (slug: string, job: Job, aim: Aim, pick?: string, rows?: number) =>
  queryOptions({
    // which pack was picked does not change the plan
    queryKey: ["plan", slug, job, aim, rows],
    meta: reads,
    queryFn: async ({ signal }): Promise<Plan> => {
      const body = { job, aim, in_full: true, ...(pick ? { pick } : {}), ...(rows ? { rows } : {}) };
      return withDetails(slug, job, await answered(client.POST("/api/sizing/plan", { body, signal })));
    },
    placeholderData: (previous, query) =>
      query?.queryKey[1] === slug ? keepPreviousData(previous) : undefined,
    gcTime: KEPT_MS,
    retry: false,
  });

export const detailsQuery = (slug: string, job: Job, ids: string[]) =>
  queryOptions({
    queryKey: ["details", slug, job, ids],
    meta: reads,
    queryFn: ({ signal }): Promise<Detail[]> =>
      answered(client.POST("/api/sizing/details", { body: { job, ids }, signal })),
    enabled: ids.length > 0,
    placeholderData: (previous, query) =>
      query?.queryKey[1] === slug ? keepPreviousData(previous) : undefined,
    gcTime: KEPT_MS,
    retry: false,
  });

/** A model with its plan, for a first look: asked at once, and known to all who ask for one of them. */
export async function lookAt(slug: string, aim: Aim, pick: string | undefined): Promise<void> {
  const known = queries.getQueryData(modelQuery(slug).queryKey);
  if (known) {
    await queries.fetchQuery({ ...planQuery(slug, known.job, aim, pick), staleTime: "static" });
    return;
  }
  const params = { path: { slug }, query: { aim, ...(pick ? { pick } : {}) } };
  const queryFn = async (): Promise<Model> => {
    const { model, plan } = await answered(client.GET("/api/models/{slug}/plan", { params }));
    const { job } = model as Model;
    // a job that cannot be planned is told of at its fields, by who asks for its plan
    if (plan) queries.setQueryData(planQuery(slug, job, aim).queryKey, withDetails(slug, job, plan));
    return model as Model;
  };
  await queries.fetchQuery({ ...modelQuery(slug), queryFn });
}

/** What a plan told in full is an answer to that question too. */
function withDetails(slug: string, job: Job, plan: Plan): Plan {
  const { picked } = plan;
  if (picked) queries.setQueryData(detailsQuery(slug, job, [picked.id]).queryKey, [picked]);
  return plan;
}
