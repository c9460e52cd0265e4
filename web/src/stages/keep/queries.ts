import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { Change, PackPage, Place, PlaceAsk, Shelf, ToStorage } from "@/api/types";
import { newKey } from "@/app/outbox";
import { ONE_LOOK_MS } from "@/app/queryClient";
import { ownedId } from "@/format/packId";

export type State = "full" | "part" | "stored" | "spent" | "too_low";

export const shelfQuery = queryOptions({
  queryKey: ["shelf"],
  meta: { reads: ["life", "gear", "rules"] },
  queryFn: ({ signal }): Promise<Shelf> => answered(client.GET("/api/keep/shelf", { signal })),
  placeholderData: keepPreviousData,
  refetchInterval: 60_000,
  // charges and readings change it behind the screens
  staleTime: ONE_LOOK_MS,
});

export const pageQuery = (tag: string) =>
  queryOptions({
    queryKey: ["pack-page", tag],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: ({ signal }): Promise<PackPage> =>
      answered(client.GET("/api/keep/packs/{tag}", { params: { path: { tag } }, signal })),
    staleTime: ONE_LOOK_MS,
  });

export const placeQuery = queryOptions({
  queryKey: ["place"],
  meta: { reads: ["rules"] },
  queryFn: ({ signal }): Promise<Place> => answered(client.GET("/api/keep/place", { signal })),
});

export function keepPlace(body: PlaceAsk, version: string): Promise<Place> {
  const header = { "If-Match": version };
  return answered(client.PUT("/api/keep/place", { params: { header }, body }));
}

export const toStorageQuery = (tag: string, cells: string, model: string) =>
  queryOptions({
    queryKey: ["pack-page", tag, "to-storage", cells, model],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: ({ signal }): Promise<ToStorage> =>
      answered(
        client.GET("/api/keep/packs/{tag}/to-storage", {
          params: { path: { tag }, query: { cells, model } },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });

export function tickRetirement(tag: string, ticked: string[]): Promise<unknown> {
  const body = { ticked, key: newKey() };
  return answered(client.PUT("/api/keep/packs/{tag}/retirement", { params: { path: { tag } }, body }));
}

export async function takeOut(tag: string, why: string): Promise<Change> {
  const body = { pack: ownedId(tag), why: why.slice(0, 100) };
  return (await answered(client.POST("/api/bench/retire", { body }))).change;
}
