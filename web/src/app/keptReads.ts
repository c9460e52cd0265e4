import { clear } from "idb-keyval";

/** The words that page and service worker have in common. */
export const KEPT_AT = "x-kept-at";
export const READS = "cold-stack-reads";
export const SKIP = "skip-waiting";

/** Nobody who was turned away waits longer for a browser that does not let go of its files. */
const PATIENCE_MS = 1500;

/** Forgets what this browser kept of the program: it may not come in any more. */
export async function forgetReads(): Promise<void> {
  const drop = [async () => clear(), async () => "caches" in window && caches.delete(READS)];
  const forgotten = Promise.allSettled(drop.map((one) => one()));
  await Promise.race([forgotten, new Promise((done) => setTimeout(done, PATIENCE_MS))]);
}
