import { useSyncExternalStore } from "react";

/** The one timer that runs: since when, for how long, for which pack in which model. */
export type Running = { model: string; pack: string; started: number; seconds: number | null };

const KEY = "cold-stack.timer";
const OLDEST_MS = 12 * 3600 * 1000;
const listeners = new Set<() => void>();
let running: Running | undefined = read();

/** A timer outlives a reload, a closed page and a look elsewhere; one of yesterday is forgotten. */
function read(): Running | undefined {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? "null") as Running | null;
    return kept && Date.now() - kept.started < OLDEST_MS ? kept : undefined;
  } catch {
    return undefined;
  }
}

function keep(next: Running | undefined): void {
  running = next;
  try {
    if (next) localStorage.setItem(KEY, JSON.stringify(next));
    else localStorage.removeItem(KEY);
  } catch {
    // the page itself still counts
  }
  for (const listener of listeners) listener();
}

export function startRunning(model: string, pack: string, seconds: number | undefined): void {
  keep({ model, pack, started: Date.now(), seconds: seconds ?? null });
}

export function stopRunning(): void {
  keep(undefined);
}

export function useRunning(): Running | undefined {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => running,
  );
}
