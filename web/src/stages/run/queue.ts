import { answered, client } from "@/api/client";
import { ApiProblem } from "@/api/problem";
import type { RunAsk } from "@/api/types";
import { keptStore } from "@/app/store";

const AGAIN_MS = 5000;

/**
 * A run that the server has not yet. One that was taken back after it was sent, perhaps in vain, is taken
 * back there.
 */
export type Waiting = { run: RunAsk; refused?: string; undone?: boolean };

/**
 * Runs logged in the field: kept in the browser until the server has them, shared by its tabs. Each has a
 * key of its own, by which the server keeps it once however often it is sent.
 */
const waiting = keptStore<Waiting[]>("cold-stack.runs-to-send", (was) =>
  Array.isArray(was) ? (was as Waiting[]) : [],
);
/** What landed on this device lately, whether it was sent or not: a field kit is older than that. */
const landings = keptStore<{ key: string; pack: string; at: number }[]>("cold-stack.landed", (was) =>
  Array.isArray(was) ? was : [],
);
const REMEMBERED_MS = 3 * 24 * 3_600_000;

let timer: number | undefined;
let sending: Promise<void> | undefined;
/** Sent from here at least once: the server may have it, whether it answered or not. */
const tried = new Set<string>();

/** Keeps a run and sends it; its key. */
export function logRun(run: Omit<RunAsk, "key">, onSent: () => void): string {
  const key = crypto.randomUUID?.() ?? random();
  waiting.update((all) => [...all, { run: { ...run, key } }]);
  const at = Date.parse(run.at);
  landings.update((all) => [...all.filter((l) => at - l.at < REMEMBERED_MS), { key, pack: run.pack, at }]);
  void send(onSent);
  return key;
}

/** When this pack landed, by what was logged here. */
export function landedAt(pack: string): number[] {
  return landings
    .get()
    .filter((l) => l.pack === pack)
    .map((l) => l.at);
}

/** Whether a run is still here, waiting to be sent. */
export function waits(key: string): boolean {
  return waiting.get().some((w) => w.run.key === key);
}

export function drop(key: string): void {
  waiting.update((all) => all.filter((w) => w.run.key !== key));
}

/** Takes a run back wherever it is by now: here, on its way, or on the server; as soon as there is a line. */
export async function takeBack(key: string, onSent: () => void): Promise<void> {
  landings.update((all) => all.filter((l) => l.key !== key));
  const here = waiting.get().find((w) => w.run.key === key);
  if (here && !tried.has(key)) {
    drop(key);
    return;
  }
  const run = here?.run ?? ({ key } as RunAsk);
  waiting.update((all) => [...all.filter((w) => w.run.key !== key), { run, undone: true }]);
  await send(onSent);
}

/** Sends all that waits, one after the other; what comes meanwhile too. */
export function send(onSent: () => void): Promise<void> {
  sending ??= sendAll(onSent).finally(() => {
    sending = undefined;
    if (waiting.get().some((w) => !w.refused)) timer = window.setTimeout(() => void send(onSent), AGAIN_MS);
  });
  return sending;
}

async function sendAll(onSent: () => void): Promise<void> {
  window.clearTimeout(timer);
  for (;;) {
    const next = waiting.get().find((w) => !w.refused);
    if (!next) return;
    try {
      await sendOne(next);
      settle(next);
      onSent();
    } catch (problem) {
      if (!refuses(problem)) return; // no line, or a page older than the server: later
      const why = (problem as ApiProblem).message;
      waiting.update((all) => all.map((w) => (w.run.key === next.run.key ? { ...w, refused: why } : w)));
    }
  }
}

async function sendOne({ run, undone }: Waiting): Promise<void> {
  tried.add(run.key);
  if (!undone) {
    await answered(client.POST("/api/runs", { body: run }));
    return;
  }
  try {
    await answered(client.DELETE("/api/runs/{key}", { params: { path: { key: run.key } } }));
  } catch (problem) {
    // it never got there
    if (!(problem instanceof ApiProblem && problem.status === 404)) throw problem;
  }
}

/** It is done with, but for one that was taken back while it was on its way. */
function settle(done: Waiting): void {
  waiting.update((all) =>
    all.filter((w) => w.run.key !== done.run.key || Boolean(w.undone) !== Boolean(done.undone)),
  );
}

/** A page older than the server, or a phone that must be paired again: sent once that is mended. */
const MENDED = [401, 403];

function refuses(problem: unknown): boolean {
  if (!(problem instanceof ApiProblem)) return false;
  return problem.status >= 400 && problem.status < 500 && !MENDED.includes(problem.status);
}

export const useWaiting = waiting.use;

function random(): string {
  return Array.from(crypto.getRandomValues(new Uint32Array(4)), (n) => n.toString(16)).join("-");
}
