import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { Change, PackPage, Shelf } from "@/api/types";

export type State = "full" | "part" | "stored" | "spent" | "too_low";

export const shelfQuery = queryOptions({
  queryKey: ["shelf"],
  queryFn: ({ signal }): Promise<Shelf> => answered(client.GET("/api/keep/shelf", { signal })),
  placeholderData: keepPreviousData,
  refetchInterval: 60_000,
});

export const pageQuery = (tag: string) =>
  queryOptions({
    queryKey: ["pack-page", tag],
    queryFn: ({ signal }): Promise<PackPage> =>
      answered(client.GET("/api/keep/packs/{tag}", { params: { path: { tag } }, signal })),
  });

export function leave(packs: string[], state: State): Promise<{ records: number[]; label: string }> {
  return answered(client.POST("/api/keep/left", { body: { packs, state } }));
}

export async function takeOut(tag: string, why: string): Promise<Change> {
  const body = { pack: `owned:${tag}`, why: why.slice(0, 100) };
  return (await answered(client.POST("/api/bench/retire", { body }))).change;
}

export function unleave(records: number[]): Promise<unknown> {
  return answered(client.POST("/api/keep/left/undo", { body: { records } }));
}
