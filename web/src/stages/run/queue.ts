import type { RunAsk } from "@/api/types";
import * as outbox from "@/app/outbox";
import { keptStore } from "@/app/store";

/** What landed on this device lately, whether it was sent or not: a field kit is older than that. */
const landings = keptStore<{ key: string; pack: string; at: number }[]>("cold-stack.landed", (was) =>
  Array.isArray(was) ? was : [],
);
const REMEMBERED_MS = 3 * 24 * 3_600_000;

/** Keeps a run and sends it; its key. */
export function logRun(run: Omit<RunAsk, "key">, onSent: () => void): string {
  const key = outbox.newKey();
  outbox.keep(outbox.runItem({ ...run, key }));
  const at = Date.parse(run.at);
  landings.update((all) => [...all.filter((l) => at - l.at < REMEMBERED_MS), { key, pack: run.pack, at }]);
  void outbox.send(onSent);
  return key;
}

/** When this pack landed, by what was logged here. */
export function landedAt(pack: string): number[] {
  return landings
    .get()
    .filter((l) => l.pack === pack)
    .map((l) => l.at);
}

/** Takes a run back wherever it is by now. */
export async function takeBack(run: RunAsk, onSent: () => void): Promise<void> {
  landings.update((all) => all.filter((l) => l.key !== run.key));
  await outbox.takeBack(outbox.runItem(run), onSent);
}

/** Runs that the server has not yet. */
export function useWaitingRuns(): RunAsk[] {
  return outbox.useOutbox().flatMap((w) => (w.kind === "run" ? [w.body] : []));
}
