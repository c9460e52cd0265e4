import { queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { Box, BoxProposal } from "@/api/types";

/** All models against all packs and chargers. */
export const boxQuery = queryOptions({
  queryKey: ["box"],
  meta: { reads: ["life", "gear", "rules"] },
  queryFn: ({ signal }): Promise<Box> => answered(client.GET("/api/keep/box", { signal })),
  retry: false,
});

/** What a proposal names is in the box now. */
export async function bought(proposal: BoxProposal) {
  const ids = proposal.buys.flatMap((b) => Array<string>(b.count).fill(b.id));
  return (await answered(client.POST("/api/keep/box/bought", { body: { ids } }))).change;
}
