import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { RouterProvider } from "@tanstack/react-router";
import { setNonce } from "get-nonce";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { router } from "@/app/router";
import { applyTheme } from "@/app/theme";
import "@/styles.css";

const nonce = document.querySelector<HTMLMetaElement>("meta[property=csp-nonce]")?.nonce;
if (nonce) setNonce(nonce);
applyTheme();

const queries = new QueryClient({
  defaultOptions: {
    // the server is on this machine or in this network: the browser's idea of being offline says nothing of it
    queries: { staleTime: 60_000, retry: 1, refetchOnWindowFocus: false, networkMode: "always" },
    mutations: { networkMode: "always" },
  },
});

/** The code of every stage is here before it is pressed: the line may be gone by then. */
function loadStages(): void {
  void Promise.allSettled([
    import("@/stages/match"),
    import("@/stages/charge"),
    import("@/stages/run"),
    import("@/stages/keep"),
    import("@/gear"),
    import("@/rules"),
    import("@/safety"),
    import("@/tags"),
  ]);
}
if ("requestIdleCallback" in window) window.requestIdleCallback(loadStages, { timeout: 5000 });
else setTimeout(loadStages, 2000);

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <RouterProvider router={router} />
      </QueryClientProvider>
    </StrictMode>,
  );
}
