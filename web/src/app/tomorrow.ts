import { queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { DayAhead, KeptDay } from "@/api/types";

/** The day that is kept, if any: taken along too. */
export const keptDayQuery = queryOptions({
  queryKey: ["tomorrow"],
  meta: { reads: ["day"] },
  queryFn: ({ signal }): Promise<KeptDay> => answered(client.GET("/api/tomorrow", { signal })),
});

/** How it goes by now: what was flown is ticked off, the rest is planned anew. */
export const dayAheadQuery = queryOptions({
  queryKey: ["tomorrow", "day"],
  meta: { reads: ["day", "life", "gear", "rules", "bench"] },
  queryFn: ({ signal }): Promise<DayAhead> => answered(client.GET("/api/tomorrow/day", { signal })),
  retry: false,
});
