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

/** The code of every stage and sheet is here before it is pressed: the line may be gone by then. */
function loadRest(): void {
  void Promise.allSettled([
    import("@/format/parse"),
    import("@/app/ModelMenu"),
    import("@/app/CommandList"),
    import("@/app/HelpDialog"),
    import("@/app/MissingModel"),
    import("@/app/TakeOver"),
    import("@/parts/FigureWorking"),
    import("@/parts/TermMeaning"),
    import("@/stages/size"),
    import("@/stages/size/Compare"),
    import("@/charts/SensitivityCurves"),
    import("@/stages/size/field/FieldTable"),
    import("@/stages/size/log/LogSheet"),
    import("@/stages/match"),
    import("@/stages/charge"),
    import("@/stages/run"),
    import("@/stages/keep"),
    import("@/gear"),
    import("@/rules"),
    import("@/safety"),
    import("@/tags"),
    import("@/newmodel"),
    import("@/equipment"),
    import("@/box"),
  ]);
}
/** When the first screen has its answers: they do not wait for code that nobody asked for yet. */
function onceAnswered(act: () => void): void {
  const look = () => {
    if (queries.isFetching() > 0) return;
    stop();
    if ("requestIdleCallback" in window) window.requestIdleCallback(act, { timeout: 5000 });
    else setTimeout(act, 500);
  };
  let stop = router.subscribe("onResolved", () => {
    stop();
    stop = queries.getQueryCache().subscribe(look);
    look();
  });
}
onceAnswered(loadRest);

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
