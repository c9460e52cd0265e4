import { useEffect, useState } from "react";
import { keptStore } from "@/app/store";

/** What a run was begun with: the cells as typed, and what it may use. */
export type Limits = { seconds: number | null; mah: number | null; alarm_v: number | null; cells: string };

/** The one timer that runs: since when, for which pack in which model, and with what. */
export type Running = { model: string; pack: string; started: number } & Limits;

const OLDEST_MS = 12 * 3600 * 1000;
const NONE: Limits = { seconds: null, mah: null, alarm_v: null, cells: "" };

/** A timer outlives a reload, a closed page and a look elsewhere; one of yesterday is forgotten. */
const running = keptStore<Running | undefined>("cold-stack.timer", (was) => {
  const kept = was as Running | undefined;
  return kept && Date.now() - kept.started < OLDEST_MS ? { ...NONE, ...kept } : undefined;
});

export function startRunning(model: string, pack: string, limits: Partial<Limits>): void {
  running.set({ model, pack, started: Date.now(), ...NONE, ...limits });
}

/** A verdict came after the press: a timer that was begun by these cells without a limit gets its own. */
export function limitRunning(model: string, pack: string, limits: Partial<Limits>): void {
  const run = running.get();
  if (run?.model !== model || run.pack !== pack || run.seconds !== null) return;
  if (limits.seconds == null || limits.cells !== run.cells) return;
  running.set({ ...run, ...limits });
}

export function stopRunning(): void {
  running.set(undefined);
}

export const useRunning = running.use;
export const runningNow = running.get;

/** Seconds since it began, and those that are left; told anew four times a second. */
export function useElapsed(run: Running | undefined): {
  elapsed: number;
  left: number | undefined;
  over: boolean;
} {
  const [now, setNow] = useState(Date.now);
  useEffect(() => {
    if (!run) return;
    setNow(Date.now());
    const timer = window.setInterval(() => setNow(Date.now()), 250);
    return () => window.clearInterval(timer);
  }, [run]);
  const elapsed = run ? Math.max(0, (now - run.started) / 1000) : 0;
  const left = run?.seconds == null ? undefined : run.seconds - elapsed;
  return { elapsed, left, over: left !== undefined && left <= 0 };
}

/** The timer's figure: what is left, or with a plus what it is over; without a limit what has passed. */
export function timerSeconds(elapsed: number, left: number | undefined): { seconds: number; plus: boolean } {
  return left === undefined ? { seconds: elapsed, plus: false } : { seconds: Math.abs(left), plus: left < 0 };
}
