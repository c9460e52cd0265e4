import { SKIP } from "@/app/keptReads";
import { runningNow } from "@/app/running";

const SCRIPT = "/static/sw.js";

/**
 * Over an encrypted line the program is kept for when there is none. A new one takes over when the page is
 * loaded anew, and never while a timer runs. At the computer itself there is always a line.
 */
export async function keepProgram(): Promise<void> {
  if (window.location.protocol !== "https:" || !("serviceWorker" in navigator)) return;
  try {
    const kept = await navigator.serviceWorker.register(SCRIPT, { scope: "/" });
    if (!kept.waiting || runningNow()) return;
    navigator.serviceWorker.addEventListener("controllerchange", () => window.location.reload(), {
      once: true,
    });
    kept.waiting.postMessage(SKIP);
  } catch {
    // not trusted yet, or forbidden: it works with a line
  }
}
