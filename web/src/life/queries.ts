import type { QueryClient } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import { wordsOf } from "@/api/problem";
import type { Said } from "@/api/types";
import { notify } from "@/app/notices";
import { type Acts, newKey, sayOrKeep, takeBackKey } from "@/app/outbox";

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

/** Say that something waits for a line, and offer to take it back. */
export function tellWaits(queries: QueryClient, key: string, words: string): void {
  notify(`No line: ${words} waits here to be sent.`, {
    act: { name: "Undo", run: () => void takeBackKey(key, () => lifeChanged(queries)) },
  });
}

/** Says something of packs, now or as soon as there is a line, and tells which. What is refused is thrown. */
export async function say<K extends "check" | "look" | "left">(
  queries: QueryClient,
  kind: K,
  words: string,
  body: Acts[K],
  key = newKey(),
): Promise<void> {
  const said: Said | undefined = await sayOrKeep(kind, key, words, body);
  if (said) tellSaid(queries, said);
  else tellWaits(queries, key, words);
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
