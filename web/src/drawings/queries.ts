import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type {
  BayDrawn,
  BenchLayout,
  ChargeAsk,
  Job,
  PackDrawn,
  PlugLook,
  WhichPlug,
  WhichPlugAsk,
  Wiring,
  Wirings,
} from "@/api/types";
import type { Part } from "@/app/reads";

const READS: { reads: Part[] } = { reads: ["life", "gear", "rules"] };

/** Packs in the model's bay, the first with its middle at so many mm. */
export const bayQuery = (
  slug: string,
  job: Job,
  packs: string[],
  at_mm: number | null,
  leads_ahead = false,
) =>
  queryOptions({
    queryKey: ["bay", slug, job, packs, at_mm, leads_ahead],
    meta: READS,
    queryFn: ({ signal }): Promise<BayDrawn[]> =>
      answered(client.POST("/api/drawings/bay", { body: { job, packs, at_mm, leads_ahead }, signal })),
    placeholderData: (previous, query) =>
      query?.queryKey[1] === slug ? keepPreviousData(previous) : undefined,
    gcTime: 60_000,
    retry: false,
  });

export const wiringQuery = (slug: string, job: Job, pack: string | undefined, charge: ChargeAsk) =>
  queryOptions({
    queryKey: ["wiring", slug, job, pack, charge],
    meta: READS,
    queryFn: ({ signal }): Promise<Wirings> =>
      answered(client.POST("/api/drawings/wiring", { body: { job, pack: pack ?? null, charge }, signal })),
    placeholderData: (previous, query) =>
      query?.queryKey[1] === slug ? keepPreviousData(previous) : undefined,
    gcTime: 60_000,
    retry: false,
  });

/** A batch on a port, as the bench would start it. */
export const benchWiringQuery = (
  bench: BenchLayout,
  packs: string[],
  charger: string,
  port: number,
  current_a: number,
) =>
  queryOptions({
    queryKey: ["bench-wiring", bench, packs, charger, port, current_a],
    meta: { reads: ["bench", "life", "gear", "rules"] as Part[] },
    queryFn: ({ signal }): Promise<Wiring> =>
      answered(
        client.POST("/api/drawings/bench", { body: { bench, packs, charger, port, current_a }, signal }),
      ),
    retry: false,
  });

/** Every family as it looks. */
export const plugLooksQuery = queryOptions({
  queryKey: ["plug-looks"],
  meta: { reads: ["gear"] as Part[] },
  queryFn: ({ signal }): Promise<PlugLook[]> => answered(client.GET("/api/drawings/plugs", { signal })),
});

export const whichPlugQuery = (seen: WhichPlugAsk) =>
  queryOptions({
    queryKey: ["which-plug", seen],
    meta: { reads: ["gear"] as Part[] },
    queryFn: ({ signal }): Promise<WhichPlug> =>
      answered(client.POST("/api/drawings/which-plug", { body: seen, signal })),
    placeholderData: keepPreviousData,
    gcTime: 60_000,
    retry: false,
  });

/** A pack as it is, by its latest readings or by cells as typed. */
export const packDrawnQuery = (tag: string, cells: string) =>
  queryOptions({
    queryKey: ["pack-drawn", tag, cells],
    meta: READS,
    queryFn: ({ signal }): Promise<PackDrawn> =>
      answered(
        client.GET("/api/drawings/packs/{tag}", { params: { path: { tag }, query: { cells } }, signal }),
      ),
    placeholderData: (previous, query) =>
      query?.queryKey[1] === tag ? keepPreviousData(previous) : undefined,
    gcTime: 60_000,
    retry: false,
  });
