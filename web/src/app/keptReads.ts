import { clear } from "idb-keyval";

/** The words that page and service worker have in common. */
export const KEPT_AT = "x-kept-at";
export const READS = "cold-stack-reads";
export const SKIP = "skip-waiting";

/** Forgets what this browser kept of the program: it may not come in any more. */
export async function forgetReads(): Promise<void> {
  try {
    await clear();
    if ("caches" in window) await caches.delete(READS);
  } catch {
    // there was nothing, or nothing is allowed
  }
}
