import type { RunAsk, RunMore } from "@/api/types";
import * as outbox from "@/app/outbox";

/** Keeps a run and sends it; its key. */
export function logRun(run: Omit<RunAsk, "key">, onSent: () => void): string {
  const key = outbox.newKey();
  outbox.keep(outbox.runItem({ ...run, key }));
  void outbox.send(onSent);
  return key;
}

/** Takes a run back wherever it is by now. */
export async function takeBack(run: RunAsk, onSent: () => void): Promise<void> {
  await outbox.takeBack(outbox.runItem(run), onSent);
}

/** What is known of a run besides; it follows the run, sent or not. */
export function addToRun(run: RunAsk, more: RunMore, onSent: () => void): void {
  const at = new Date().toISOString();
  const body = { run: run.key, pack: run.pack, ...more };
  outbox.keep({ kind: "more", key: outbox.newKey(), at, words: `More of the run of ${run.pack}`, body });
  void outbox.send(onSent);
}
