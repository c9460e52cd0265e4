import type { QueryClient } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import { asksAnew, type Part } from "@/app/reads";

/**
 * Other pages of this world hear of what is done here at once, through the browser; what others wrote, on a
 * phone or by a script, is seen when a page comes to the front, by the server's mark.
 */
const NAME = "cold-stack.changes";
const ALL: Part[] = ["life", "gear", "rules", "bench", "charges"];
const channel = typeof BroadcastChannel === "undefined" ? undefined : new BroadcastChannel(NAME);

/** What was touched here, told to the other pages. */
export function tellOthers(parts: Part[]): void {
  channel?.postMessage(parts);
}

/** Asks anew what others have touched; returns how to stop listening. */
export function hearOthers(queries: QueryClient): () => void {
  let mark: string | undefined;
  const heard = ({ data }: MessageEvent<Part[]>) => asksAnew(queries, data);
  const cameToTheFront = async () => {
    if (document.visibilityState !== "visible") return;
    try {
      const now = (await answered(client.GET("/api/world/mark"))).mark;
      if (mark !== undefined && now !== mark) asksAnew(queries, ALL);
      mark = now;
    } catch {
      // without a line there is nothing to hear
    }
  };
  channel?.addEventListener("message", heard);
  document.addEventListener("visibilitychange", cameToTheFront);
  window.addEventListener("focus", cameToTheFront);
  void cameToTheFront();
  return () => {
    channel?.removeEventListener("message", heard);
    document.removeEventListener("visibilitychange", cameToTheFront);
    window.removeEventListener("focus", cameToTheFront);
  };
}
