import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { Aim, Detail, Job, Plan } from "@/api/types";

export const planQuery = (slug: string, job: Job, aim: Aim, rows?: number) =>
  queryOptions({
    queryKey: ["plan", slug, job, aim, rows],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: ({ signal }): Promise<Plan> =>
      answered(client.POST("/api/sizing/plan", { body: { job, aim, ...(rows ? { rows } : {}) }, signal })),
    placeholderData: (previous, query) =>
      query?.queryKey[1] === slug ? keepPreviousData(previous) : undefined,
    gcTime: 60_000,
    retry: false,
  });

export const detailsQuery = (slug: string, job: Job, ids: string[]) =>
  queryOptions({
    queryKey: ["details", slug, job, ids],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: ({ signal }): Promise<Detail[]> =>
      answered(client.POST("/api/sizing/details", { body: { job, ids }, signal })),
    enabled: ids.length > 0,
    placeholderData: (previous, query) =>
      query?.queryKey[1] === slug ? keepPreviousData(previous) : undefined,
    gcTime: 60_000,
    retry: false,
  });
