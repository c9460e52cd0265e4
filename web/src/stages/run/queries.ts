import { queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { Go, Job, Landing, RunMend, RunPack, Runs } from "@/api/types";
import { ONE_LOOK_MS } from "@/app/queryClient";
import { toldOther } from "@/app/said";

export const runPacksQuery = (model: string) =>
  queryOptions({
    queryKey: ["shelf", "run", model],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: ({ signal }): Promise<RunPack[]> =>
      answered(client.GET("/api/run/packs", { params: { query: { model } }, signal })),
    staleTime: ONE_LOOK_MS,
  });

/** How a run may end, and what to do then: asked as one goes in, so that it is there without a line. */
export const landingsQuery = queryOptions({
  queryKey: ["landings"],
  queryFn: ({ signal }): Promise<Landing[]> => answered(client.GET("/api/run/landings", { signal })),
  staleTime: Number.POSITIVE_INFINITY,
});

export const goQuery = (model: string, pack: string, cells: string, temperature_c: number | null) =>
  queryOptions({
    queryKey: ["go", model, pack, cells, temperature_c],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: ({ signal }): Promise<Go> =>
      answered(client.POST("/api/run/go", { body: { model, pack, cells, temperature_c }, signal })),
    retry: false,
    // a verdict is never older than the look at it: draw, rules and pack may have changed since, anywhere
    staleTime: 0,
    gcTime: 0,
    refetchOnMount: "always",
    refetchOnWindowFocus: "always",
  });

export const runsQuery = (model: string) =>
  queryOptions({
    queryKey: ["runs", model],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: ({ signal }): Promise<Runs> =>
      answered(client.GET("/api/runs", { params: { query: { model } }, signal })),
  });

/** What is better known of a run: what went back, its minutes, or that it is so as it was told. */
export function mendRun(run: number, better: RunMend): Promise<unknown> {
  const params = { path: { run_id: run } };
  return answered(client.POST("/api/runs/{run_id}/mended", { params, body: better }));
}

export async function takeRunAway(key: string): Promise<unknown> {
  toldOther();
  return answered(client.DELETE("/api/runs/{key}", { params: { path: { key } } }));
}

export async function bringRunBack(key: string): Promise<unknown> {
  toldOther();
  return answered(client.POST("/api/runs/{key}/back", { params: { path: { key } } }));
}

/** Puts a model's job as it was before; refused if it was changed since that version. */
export function keepJob(slug: string, job: Job, version: string): Promise<unknown> {
  const params = { path: { slug }, header: { "If-Match": version } };
  return answered(client.PUT("/api/models/{slug}/job", { params, body: job }));
}

export function learn(model: string): Promise<unknown> {
  return answered(client.POST("/api/runs/learn", { params: { query: { model } } }));
}
