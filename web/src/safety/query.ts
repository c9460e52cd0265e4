import { queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { Safety } from "@/api/types";

export const safetyQuery = queryOptions({
  queryKey: ["safety"],
  meta: { reads: ["rules"] },
  queryFn: ({ signal }): Promise<Safety> => answered(client.GET("/api/safety", { signal })),
  staleTime: Number.POSITIVE_INFINITY,
});
