import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { Estimate, Job } from "@/api/types";

/** The draw by estimate, held against the log, and the setup on other cells. */
export const estimateQuery = (model: string, job: Job) =>
  queryOptions({
    queryKey: ["estimate", model, job],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: ({ signal }): Promise<Estimate> =>
      answered(client.POST("/api/sizing/estimate", { body: { job, model }, signal })),
    placeholderData: keepPreviousData,
    gcTime: 60_000,
    retry: false,
  });
