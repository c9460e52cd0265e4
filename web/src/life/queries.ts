import type { QueryClient } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { Said } from "@/api/types";
import { perform, tell, touched, type Verb } from "@/app/act";
import { type Acts, touchedBy } from "@/app/acts";
import { notify } from "@/app/notices";
import { newKey, sayOrKeep, takeBackKey } from "@/app/outbox";
import { toldOther } from "@/app/said";

async function takeBack(events: number[]): Promise<Said> {
  toldOther();
  return answered(client.POST("/api/keep/take-back", { body: { events } }));
}

async function bringBack(events: number[]): Promise<Said> {
  toldOther();
  return answered(client.POST("/api/keep/bring-back", { body: { events } }));
}

/** Something said of packs: told, and taken back by a press; and brought back by the next. */
const said: Omit<Verb<Said>, "act" | "fails"> = {
  touches: ["life"],
  says: (x) => x.label,
  undo: (x) => withdrawVerb(x.events),
};

function withdrawVerb(events: number[]): Verb & { name: string } {
  const verb: Verb<Said> = {
    act: () => takeBack(events),
    touches: ["life"],
    fails: "It could not be taken back.",
    says: (x) => x.label,
    undo: () => ({
      name: "Bring it back",
      act: () => bringBack(events),
      touches: ["life"],
      fails: "It could not be brought back.",
    }),
  };
  return { ...(verb as Verb), name: "Undo" };
}

/** Charged full on a charger that is not linked; of one pack alone perhaps what it put in. */
export const chargedVerb = (
  queries: QueryClient,
  packs: string[],
  put_in_mah: number | null = null,
): Verb<void> => ({
  act: () => say(queries, "charged", `${packs.join(", ")}, charged full,`, { packs, put_in_mah }),
  touches: [],
  fails: "It could not be noted.",
});

/** Say what was noted, and offer to take it back. */
export function tellSaid(queries: QueryClient, what: Said): void {
  tell(queries, said, what);
}

/** Say that something waits for a line, and offer to take it back. */
export function tellWaits(queries: QueryClient, key: string, words: string): void {
  notify(`No line: ${words} waits here to be sent.`, {
    act: { name: "Undo", run: () => void takeBackKey(key, (kind) => touched(queries, ...touchedBy(kind))) },
  });
}

/** Says something of packs, now or as soon as there is a line, and tells which. What is refused is thrown. */
export async function say<K extends "check" | "look" | "left" | "charged">(
  queries: QueryClient,
  kind: K,
  words: string,
  body: Acts[K],
  key = newKey(),
): Promise<void> {
  const done: Said | undefined = await sayOrKeep(kind, key, words, body);
  if (done) tellSaid(queries, done);
  else tellWaits(queries, key, words);
}

/** Take something back, and offer to bring it back. */
export async function withdraw(queries: QueryClient, events: number[]): Promise<void> {
  await perform(queries, withdrawVerb(events));
}
