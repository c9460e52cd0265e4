import { store } from "@/app/store";

/** Since when the server has not answered; undefined while it does. */
const lost = store<number | undefined>(undefined);

/** An answer came from the server itself. */
export function lineHolds(): void {
  if (lost.get() !== undefined) lost.set(undefined);
}

/** None came; `at` is the hour of what was shown instead. */
export function lineLost(at = Date.now()): void {
  const since = lost.get();
  if (since === undefined || at < since) lost.set(at);
}

export const useLine = lost.use;
