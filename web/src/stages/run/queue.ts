import { useSyncExternalStore } from "react";
import { answered, client } from "@/api/client";
import { ApiProblem } from "@/api/problem";
import type { RunAsk } from "@/api/types";

const KEPT = "cold-stack.runs-to-send";
const AGAIN_MS = 5000;

export type Waiting = { run: RunAsk; refused?: string };

/**
 * Runs logged in the field: kept in the browser until the server has them. Each has a key of its own, by which the server
 * keeps it once however often it is sent.
 */
const listeners = new Set<() => void>();
let waiting: Waiting[] = read();
let timer: number | undefined;
let sending = false;

function read(): Waiting[] {
  try {
    return JSON.parse(localStorage.getItem(KEPT) ?? "[]") as Waiting[];
  } catch {
    return [];
  }
}

function keep(next: Waiting[]): void {
  waiting = next;
  try {
    localStorage.setItem(KEPT, JSON.stringify(next));
  } catch {
    // the page itself still holds them
  }
  for (const listener of listeners) listener();
}

/** Keeps a run and sends it; its key. */
export function logRun(run: Omit<RunAsk, "key">, onSent: () => void): string {
  const key = crypto.randomUUID?.() ?? random();
  keep([...waiting, { run: { ...run, key } }]);
  void send(onSent);
  return key;
}

/** Whether a run is still here, waiting to be sent. */
export function waits(key: string): boolean {
  return waiting.some((w) => w.run.key === key);
}

export function drop(key: string): void {
  keep(waiting.filter((w) => w.run.key !== key));
}

export async function send(onSent: () => void): Promise<void> {
  if (sending) return;
  sending = true;
  window.clearTimeout(timer);
  for (const { run, refused } of [...waiting]) {
    if (refused) continue;
    try {
      await answered(client.POST("/api/runs", { body: run }));
      drop(run.key);
      onSent();
    } catch (problem) {
      if (
        problem instanceof ApiProblem &&
        problem.status >= 400 &&
        problem.status < 500 &&
        problem.status !== 403
      )
        keep(waiting.map((w) => (w.run.key === run.key ? { ...w, refused: problem.message } : w)));
      else break; // no line, or a page older than the server: later
    }
  }
  sending = false;
  if (waiting.some((w) => !w.refused)) timer = window.setTimeout(() => void send(onSent), AGAIN_MS);
}

export function useWaiting(): Waiting[] {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => waiting,
  );
}

function random(): string {
  return Array.from(crypto.getRandomValues(new Uint32Array(4)), (n) => n.toString(16)).join("-");
}
