import { createRootRoute, createRoute, createRouter, redirect } from "@tanstack/react-router";
import { z } from "zod/mini";
import { Frame } from "@/app/Frame";
import { NotFound } from "@/app/NotFound";
import { SizeScreen } from "@/stages/size";

const rootRoute = createRootRoute({ component: Frame, notFoundComponent: NotFound });

/** The state of Size lives in the address: picked and pinned candidates, the aim, whether they are compared. */
const sizeSearch = z.object({
  pick: z.catch(z.optional(z.string()), undefined),
  pins: z.catch(z.optional(z.array(z.string()).check(z.maxLength(4))), undefined),
  aim: z.catch(z.optional(z.enum(["all_round", "longest", "lightest", "coolest", "cheapest"])), undefined),
  compare: z.catch(z.optional(z.boolean()), undefined),
});

export const sizeRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/size/$model",
  validateSearch: sizeSearch,
  component: SizeScreen,
});

const homeRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/",
  beforeLoad: () => {
    throw redirect({ to: "/size/$model", params: { model: lastModel() } });
  },
});

const LAST = "cold-stack.model";

function lastModel(): string {
  try {
    return localStorage.getItem(LAST) ?? "ptarmigan";
  } catch {
    return "ptarmigan";
  }
}

export function rememberModel(slug: string): void {
  try {
    localStorage.setItem(LAST, slug);
  } catch {
    // nothing kept, nothing lost: the first model opens next time
  }
}

export const router = createRouter({ routeTree: rootRoute.addChildren([homeRoute, sizeRoute]) });

declare module "@tanstack/react-router" {
  interface Register {
    router: typeof router;
  }
}
