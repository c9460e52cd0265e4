import {
  createRootRoute,
  createRoute,
  createRouter,
  lazyRouteComponent,
  redirect,
} from "@tanstack/react-router";
import { z } from "zod/mini";
import { Broken } from "@/app/Broken";
import { Frame } from "@/app/Frame";
import { lastModel } from "@/app/lastModel";
import { NotFound } from "@/app/NotFound";
import { modelsQuery } from "@/app/queries";
import { queries } from "@/app/queryClient";
import { FirstPage } from "@/first";
import { SizeScreen } from "@/stages/size";

const rootRoute = createRootRoute({ component: Frame, notFoundComponent: NotFound });

const words = z.catch(z.optional(z.string()), undefined);

/** The state of Size lives in the address: what is picked and pinned, the aim, whether they are compared. */
const sizeSearch = z.object({
  pick: words,
  pins: z.catch(z.optional(z.array(z.string()).check(z.maxLength(4))), undefined),
  aim: z.catch(z.optional(z.enum(["all_round", "longest", "lightest", "coolest", "cheapest"])), undefined),
  compare: z.catch(z.optional(z.boolean()), undefined),
});

/** The state of Match: the pack in the middle, and how it would be charged. Ids may look like numbers. */
const id = z.catch(z.optional(z.coerce.string()), undefined);
const matchSearch = z.object({
  pack: words,
  charger: id,
  source: z.catch(z.optional(z.enum(["mains", "dc"])), undefined),
  supply: id,
  ports: z.catch(z.optional(z.number().check(z.gte(1), z.lte(16))), undefined),
  cells: words,
});

/** Gear: what is edited, and whether the import sheet is open. */
const gearSearch = z.object({
  edit: z.catch(z.optional(z.union([z.number(), z.literal("new")])), undefined),
  /** A new one like this. */
  twin: z.catch(z.optional(z.number()), undefined),
  /** The lead for this charger. */
  lead: z.catch(z.optional(z.number()), undefined),
  offers: z.catch(z.optional(z.boolean()), undefined),
  find: words,
  files: z.catch(z.optional(z.boolean()), undefined),
});

export const sizeRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/size/$model",
  validateSearch: sizeSearch,
  component: SizeScreen,
});

export const matchRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/match/$model",
  validateSearch: matchSearch,
  component: lazyRouteComponent(() => import("@/stages/match"), "MatchScreen"),
});

export const chargeRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/charge/$model",
  component: lazyRouteComponent(() => import("@/stages/charge"), "ChargeScreen"),
});

/** Run: the pack that is to be run, by its tag. */
const runSearch = z.object({ pack: id });

export const runRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/run/$model",
  validateSearch: runSearch,
  component: lazyRouteComponent(() => import("@/stages/run"), "RunScreen"),
});

/** Keep: the pack whose page is open, by its tag. */
const keepSearch = z.object({ pack: id });

export const keepRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/keep/$model",
  validateSearch: keepSearch,
  component: lazyRouteComponent(() => import("@/stages/keep"), "KeepScreen"),
});

export const gearRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/gear/$kind",
  validateSearch: gearSearch,
  component: lazyRouteComponent(() => import("@/gear"), "GearScreen"),
});

/** House rules: the set that is looked at. */
const rulesSearch = z.object({ set: words });

export const rulesRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/rules",
  validateSearch: rulesSearch,
  component: lazyRouteComponent(() => import("@/rules"), "RulesScreen"),
});

export const safetyRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/safety",
  component: lazyRouteComponent(() => import("@/safety"), "SafetyScreen"),
});

/** The address that a printed tag's code holds. */
const packRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/pack/$tag",
  beforeLoad: ({ params }) => {
    throw redirect({ to: "/keep/$model", params: { model: lastModel() }, search: { pack: params.tag } });
  },
});

export const tagsRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/tags",
  validateSearch: z.object({
    packs: z.catch(z.optional(z.array(z.coerce.string()).check(z.maxLength(500))), undefined),
  }),
  component: lazyRouteComponent(() => import("@/tags"), "TagsScreen"),
});

export const newModelRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/new",
  component: lazyRouteComponent(() => import("@/newmodel"), "NewModelScreen"),
});

/** Where one was last; the first page while there is no model. */
const homeRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/",
  beforeLoad: async () => {
    const models = await queries.fetchQuery({ ...modelsQuery, staleTime: 0 });
    const last = lastModel();
    const model = models.find((m) => m.slug === last) ?? models[0];
    if (model) throw redirect({ to: "/size/$model", params: { model: model.slug }, replace: true });
  },
  component: FirstPage,
});

export const router = createRouter({
  defaultErrorComponent: Broken,
  routeTree: rootRoute.addChildren([
    homeRoute,
    sizeRoute,
    matchRoute,
    chargeRoute,
    runRoute,
    keepRoute,
    gearRoute,
    packRoute,
    newModelRoute,
    rulesRoute,
    safetyRoute,
    tagsRoute,
  ]),
});

declare module "@tanstack/react-router" {
  interface Register {
    router: typeof router;
  }
}
