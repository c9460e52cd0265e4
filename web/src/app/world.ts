import { queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import { wordsOf } from "@/api/problem";
import type { World } from "@/api/types";
import { notify } from "@/app/notices";

export const worldQuery = queryOptions({
  queryKey: ["world"],
  meta: { reads: ["gear"] },
  queryFn: ({ signal }): Promise<World> => answered(client.GET("/api/world", { signal })),
});

/** The demo and one's own world are two programs: to go over is to load another address. */
export async function goToWorld(world: World["world"], path = "/"): Promise<void> {
  try {
    const { address } = await answered(client.POST("/api/world/open", { body: { world } }));
    window.location.assign(new URL(path, address).href);
  } catch (problem) {
    notify(wordsOf(problem, "The other world could not be opened."), { wrong: true });
  }
}
