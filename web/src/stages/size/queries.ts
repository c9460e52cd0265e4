import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { Aim, Detail, Job, Log, Plan } from "@/api/types";

export const planQuery = (slug: string, job: Job, aim: Aim, rows?: number) =>
  queryOptions({
    queryKey: ["plan", slug, job, aim, rows],
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
    queryFn: ({ signal }): Promise<Detail[]> =>
      answered(client.POST("/api/sizing/details", { body: { job, ids }, signal })),
    enabled: ids.length > 0,
    placeholderData: (previous, query) =>
      query?.queryKey[1] === slug ? keepPreviousData(previous) : undefined,
    gcTime: 60_000,
    retry: false,
  });

export function readLog(file: File, motion: Job["motion"]): Promise<Log> {
  const form = new FormData();
  form.append("log", file);
  form.append("motion", motion);
  return answered(
    client.POST("/api/draw/log", {
      // the schema describes the parts; the browser sends the form itself
      body: form as unknown as { log: string; motion?: Job["motion"] },
      bodySerializer: (body) => body as unknown as FormData,
    }),
  );
}
