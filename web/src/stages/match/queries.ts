import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { ChargeAsk, Grid, Job, Match } from "@/api/types";
import { ONE_LOOK_MS } from "@/app/queryClient";

export const matchQuery = (slug: string, job: Job, pack: string | undefined, charge: ChargeAsk) =>
  queryOptions({
    queryKey: ["match", slug, job, pack, charge],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: ({ signal }): Promise<Match> =>
      answered(client.POST("/api/match", { body: { job, pack: pack ?? null, charge }, signal })),
    placeholderData: (previous, query) =>
      query?.queryKey[1] === slug ? keepPreviousData(previous) : undefined,
    gcTime: 60_000,
    retry: false,
  });

export const gridQuery = (job: Job) =>
  queryOptions({
    queryKey: ["grid", job.house_rules, job.label_trust],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: ({ signal }): Promise<Grid> =>
      answered(
        client.POST("/api/match/grid", {
          body: { house_rules: job.house_rules, label_trust: job.label_trust },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    staleTime: ONE_LOOK_MS,
  });
