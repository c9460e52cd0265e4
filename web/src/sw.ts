/// <reference lib="webworker" />
import { cleanupOutdatedCaches, precacheAndRoute } from "workbox-precaching";
import { registerRoute } from "workbox-routing";
import { NetworkFirst } from "workbox-strategies";
import { KEPT_AT, READS, SKIP } from "@/app/keptReads";

declare const self: ServiceWorkerGlobalScope;

/** After so long without an answer what was kept is shown. */
const PATIENCE_S = 4;
/** Whole files, and what is a page of its own. */
const NOT_KEPT = /^\/(api\/(files|docs|openapi)|pair)/;

/** What comes from the cache says of what hour it is. */
const marked = {
  cachedResponseWillBeUsed: async ({ cachedResponse }: { cachedResponse?: Response | undefined }) => {
    if (!cachedResponse) return null;
    const headers = new Headers(cachedResponse.headers);
    headers.set(KEPT_AT, headers.get("date") ?? new Date(0).toUTCString());
    const { status, statusText } = cachedResponse;
    return new Response(cachedResponse.body, { status, statusText, headers });
  },
};
const options = { cacheName: READS, networkTimeoutSeconds: PATIENCE_S };

precacheAndRoute(self.__WB_MANIFEST);
cleanupOutdatedCaches();

// the one page, whatever its address; never one to which the server sent us instead
const page = new NetworkFirst({
  ...options,
  plugins: [
    {
      cacheKeyWillBeUsed: async () => "/",
      cacheWillUpdate: async ({ response }) => (response.ok && !response.redirected ? response : null),
    },
  ],
});
registerRoute(({ request, url }) => request.mode === "navigate" && !NOT_KEPT.test(url.pathname), page);

// reading only: what writes or reckons goes to the server or nowhere
registerRoute(
  ({ url, request, sameOrigin }) =>
    sameOrigin &&
    request.method === "GET" &&
    url.pathname.startsWith("/api/") &&
    !NOT_KEPT.test(url.pathname),
  new NetworkFirst({ ...options, plugins: [marked] }),
);

// a new program waits until the page says that nothing runs
self.addEventListener("message", (event) => {
  if (event.data === SKIP) void self.skipWaiting();
});
