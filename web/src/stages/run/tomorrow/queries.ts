import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { DayAhead, DayAheadAsk, KeptDay } from "@/api/types";
import { localMinute } from "@/format/time";

/** What was asked, as of this minute. */
const now = (asked: DayAheadAsk) => ({ ...asked, at: localMinute() });

/** A day that is not kept yet, while it is being put together. */
export const draftDayQuery = (asked: DayAheadAsk) =>
  queryOptions({
    queryKey: ["tomorrow", "draft", asked],
    meta: { reads: ["day", "life", "gear", "rules", "bench"] },
    queryFn: ({ signal }): Promise<DayAhead> =>
      answered(client.POST("/api/tomorrow/plan", { body: now(asked), signal })),
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 60_000,
  });

export function keepDay(asked: DayAheadAsk, version: string): Promise<KeptDay> {
  const params = { header: { "If-Match": version } };
  return answered(client.PUT("/api/tomorrow", { params, body: now(asked) }));
}

export function putDayAway(version: string): Promise<KeptDay> {
  return answered(client.DELETE("/api/tomorrow", { params: { header: { "If-Match": version } } }));
}

/** Lays out what the day wants charged before; the bench as it was, and as it is. */
export async function layOut(asked: DayAheadAsk) {
  const before = await answered(client.GET("/api/bench"));
  const after = await answered(client.POST("/api/tomorrow/lay", { body: now(asked) }));
  return { before, after };
}

export function benchAsItWas({ before, after }: Awaited<ReturnType<typeof layOut>>) {
  const params = { header: { "If-Match": after.version } };
  return answered(client.PUT("/api/bench", { params, body: before.bench }));
}

export type Battery = "lead" | "lifepo4" | "liion";

/** How full a battery is, as people say it. */
export function tellLevel(supply: string, body: { key: string; told: string; kind: Battery | null }) {
  const params = { path: { supply_id: Number(supply) } };
  return answered(client.POST("/api/supplies/{supply_id}/level", { params, body }));
}

export function takeLevelBack(supply: string, key: string) {
  const params = { path: { supply_id: Number(supply), key } };
  return answered(client.DELETE("/api/supplies/{supply_id}/level/{key}", { params }));
}
