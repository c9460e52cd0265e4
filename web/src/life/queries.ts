import type { QueryClient } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import { wordsOf } from "@/api/problem";
import type { Said } from "@/api/types";
import { notify } from "@/app/notices";

/** A key of one act: sent twice, it is done once. */
export function newKey(): string {
  const random = crypto.getRandomValues(new Uint32Array(4));
  return Array.from(random, (n) => n.toString(16).padStart(8, "0")).join("");
}

export type Look = { signs: string[]; at_room: boolean; temperature_c: number | null; key: string };

/** Somebody looked at the pack and felt it: sound, or with these signs. */
export function look(tag: string, body: Look): Promise<Said> {
  return answered(client.POST("/api/keep/packs/{tag}/looks", { params: { path: { tag } }, body }));
}

function takeBack(events: number[]): Promise<Said> {
  return answered(client.POST("/api/keep/take-back", { body: { events } }));
}

function bringBack(events: number[]): Promise<Said> {
  return answered(client.POST("/api/keep/bring-back", { body: { events } }));
}

/** All that tells how packs are is asked anew. */
export function lifeChanged(queries: QueryClient): void {
  const told = [
    "shelf",
    "pack-page",
    "bench-plan",
    "match",
    "grid",
    "plan",
    "details",
    "runs",
    "go",
    "day",
    "gear",
  ];
  for (const key of told) {
    // a first answer that is still on its way is older than what was just said
    void queries
      .cancelQueries({ queryKey: [key] })
      .then(() => queries.invalidateQueries({ queryKey: [key] }));
  }
  // a bench that is not looked at is fetched when it is: what was read before may not hold any more
  queries.removeQueries({ queryKey: ["bench"], type: "inactive" });
}

/** Say what was noted, and offer to take it back. */
export function tellSaid(queries: QueryClient, said: Said): void {
  lifeChanged(queries);
  notify(said.label, { act: { name: "Undo", run: () => void withdraw(queries, said.events) } });
}

/** Take something back, and offer to bring it back. */
export async function withdraw(queries: QueryClient, events: number[]): Promise<void> {
  try {
    const said = await takeBack(events);
    lifeChanged(queries);
    const again = async () => {
      try {
        await bringBack(events);
        lifeChanged(queries);
      } catch (problem) {
        notify(wordsOf(problem, "It could not be brought back."), { wrong: true });
      }
    };
    notify(said.label, { act: { name: "Bring it back", run: () => void again() } });
  } catch (problem) {
    notify(wordsOf(problem, "It could not be taken back."), { wrong: true });
  }
}
