import { store } from "@/app/store";

/** Since when the server has not answered; undefined while it does. */
const lost = store<number | undefined>(undefined);
/** One answer that does not come is no lost line while others do. */
const OTHERS_MS = 2500;
let heard = 0;
let answers = 0;

/** How many answers have come from the server itself. */
export const answersHeard = (): number => answers;

/** An answer came from the server itself. */
export function lineHolds(): void {
  heard = Date.now();
  answers += 1;
  if (lost.get() !== undefined) lost.set(undefined);
}

/** None came. */
export function lineLost(): void {
  if (lost.get() === undefined && Date.now() - heard > OTHERS_MS) lost.set(Date.now());
}

/** What was kept earlier came instead, of this hour. */
export function keptInstead(at: number): void {
  const since = lost.get();
  if (since === undefined || at < since) lost.set(at);
}

export const useLine = lost.use;
