import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type {
  BenchLayout,
  BenchPlan,
  Change,
  ChargeLine,
  ChargeOrder,
  Curves,
  Glance,
  Running,
  Sharing,
  Storages,
} from "@/api/types";

export const benchQuery = queryOptions({
  queryKey: ["bench"],
  queryFn: ({ signal }) => fetchBench(signal),
  staleTime: Number.POSITIVE_INFINITY,
});

export const planQuery = (bench: BenchLayout) =>
  queryOptions({
    queryKey: ["bench-plan", bench],
    meta: { reads: ["life", "gear", "rules", "bench"] },
    queryFn: ({ signal }): Promise<BenchPlan> =>
      answered(client.POST("/api/bench/plan", { body: bench, signal })),
    placeholderData: keepPreviousData,
    gcTime: 60_000,
    retry: false,
  });

export const chargesQuery = queryOptions({
  queryKey: ["charges"],
  meta: { reads: ["charges", "rules"] },
  queryFn: ({ signal }): Promise<ChargeLine[]> => answered(client.GET("/api/charges", { signal })),
  // what begins elsewhere is told with the alarms, which are asked for on every stage
  refetchInterval: (query) => (query.state.data?.some(charges) ? 2000 : false),
});

/** It is on its charger. */
export const charges = (c: ChargeLine) => ["starting", "charging", "stopping"].includes(c.state);

export const glanceQuery = queryOptions({
  queryKey: ["charges", "glance"],
  meta: { reads: ["charges"] },
  queryFn: ({ signal }): Promise<Glance[]> => answered(client.GET("/api/charges/glance", { signal })),
  refetchInterval: 1000,
});

export const chargeQuery = (id: number, live: boolean) =>
  queryOptions({
    queryKey: ["charge", id],
    meta: { reads: ["charges", "rules"] },
    queryFn: ({ signal }): Promise<Running> =>
      answered(client.GET("/api/charges/{charge_id}", { params: { path: { charge_id: id } }, signal })),
    refetchInterval: live ? 1000 : false,
    // what was seen last may be from before its end
    staleTime: 0,
  });

export const orderQuery = (
  bench: BenchLayout,
  packs: string[],
  charger: string,
  port: number,
  current_a: number,
) =>
  queryOptions({
    queryKey: ["bench-order", bench, packs, charger, port, current_a],
    meta: { reads: ["bench", "rules", "gear", "life"] },
    queryFn: ({ signal }): Promise<ChargeOrder> =>
      answered(client.POST("/api/bench/order", { body: { bench, packs, charger, port, current_a }, signal })),
    retry: false,
  });

export const curvesQuery = (bench: BenchLayout, pack: string) =>
  queryOptions({
    queryKey: ["bench-curves", bench, pack],
    meta: { reads: ["rules", "gear"] },
    queryFn: ({ signal }): Promise<Curves> =>
      answered(client.POST("/api/bench/curves", { body: { bench, pack }, signal })),
    retry: false,
  });

export const storageQuery = (bench: BenchLayout, pack: string, model: string) =>
  queryOptions({
    queryKey: ["bench-storage", bench, pack, model],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: ({ signal }): Promise<Storages> =>
      answered(client.POST("/api/bench/storage", { body: { bench, pack, model }, signal })),
    retry: false,
  });

export function mayShare(bench: BenchLayout, packs: string[]): Promise<Sharing> {
  return answered(client.POST("/api/bench/sharing", { body: { bench, packs } }));
}

/** The bench as it is kept, and which version of it. */
export type KeptBench = { bench: BenchLayout; version: string };

const keptBench = (x: { bench: unknown; version: string }): KeptBench => ({
  bench: x.bench as BenchLayout,
  version: x.version,
});

export async function fetchBench(signal?: AbortSignal): Promise<KeptBench> {
  return keptBench(await answered(client.GET("/api/bench", signal ? { signal } : {})));
}

export async function keepBench(bench: BenchLayout, version: string): Promise<KeptBench> {
  const header = { "If-Match": version };
  return keptBench(await answered(client.PUT("/api/bench", { params: { header }, body: bench })));
}

export function readByChecker(
  pack: string,
): Promise<{ cells: string; temperature_c: number | null; read_at: string }> {
  return answered(client.POST("/api/bench/read", { body: { pack } }));
}

export async function takeOutOfUse(pack: string, why: string): Promise<Change> {
  return (await answered(client.POST("/api/bench/retire", { body: { pack, why } }))).change;
}

export type StartAsk = {
  bench: BenchLayout;
  packs: string[];
  charger: string;
  port: number;
  current_a: number;
  look_every_min: number;
  steps: string[];
  key: string;
  simulate?: string;
};

export function startCharge(body: StartAsk): Promise<Running> {
  return answered(client.POST("/api/charges", { body }));
}

export function look(id: number): Promise<Running> {
  return answered(client.POST("/api/charges/{charge_id}/look", { params: { path: { charge_id: id } } }));
}

export function stopCharge(id: number): Promise<Running> {
  return answered(client.POST("/api/charges/{charge_id}/stop", { params: { path: { charge_id: id } } }));
}

export function putFault(id: number, fault: string, cell: number): Promise<Running> {
  return answered(
    client.POST("/api/charges/{charge_id}/fault", {
      params: { path: { charge_id: id } },
      body: { fault, cell },
    }),
  );
}
