import { QueryClientProvider } from "@tanstack/react-query";
import { RouterProvider } from "@tanstack/react-router";
import { setNonce } from "get-nonce";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { queries } from "@/app/queryClient";
import { router } from "@/app/router";
import { applyTheme } from "@/app/theme";
import { keepProgram } from "@/app/worker";
import "@/styles.css";

const nonce = document.querySelector<HTMLMetaElement>("meta[property=csp-nonce]")?.nonce;
if (nonce) setNonce(nonce);
applyTheme();

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
    import("@/newmodel"),
  ]);
}
if ("requestIdleCallback" in window) window.requestIdleCallback(loadStages, { timeout: 5000 });
else setTimeout(loadStages, 2000);

void keepProgram();

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
