import {
  createRootRoute,
  createRoute,
  createRouter,
  lazyRouteComponent,
  redirect,
} from "@tanstack/react-router";
import { Broken } from "@/app/Broken";
import { Frame } from "@/app/Frame";
import { flag, type Held, number, oneOf, optional, text, texts } from "@/app/held";
import { lastModel, NO_MODEL } from "@/app/lastModel";
import { choicesQuery, modelsQuery } from "@/app/queries";
import { queries } from "@/app/queryClient";
import { had, soon } from "@/app/ready";
import { STAGES } from "@/app/stages";
import { worldQuery } from "@/app/world";

/** The frame is painted with what it says of model and world, in its own letters: nothing moves later. */
const rootRoute = createRootRoute({
  component: Frame,
  notFoundComponent: lazyRouteComponent(() => import("@/app/NotFound"), "NotFound"),
  loader: () => soon([had(worldQuery), had(modelsQuery), had(choicesQuery), document.fonts?.ready]),
  shouldReload: false,
});

// biome-ignore lint/suspicious/noExplicitAny: each room knows its own address
type At = any;
type Room = { ready?: (at: At) => Promise<unknown> };

/** A room's code and its first answers are asked for together when one goes in, and only then. */
const entering = (room: () => Promise<Room>) => ({
  loader: ({ params, location }: At) => {
    const ready = async () => {
      const its = await room();
      // where there is no model yet there is nothing to ask about it
      if (params.model !== NO_MODEL) await its.ready?.({ ...params, ...location.search });
    };
    return soon([ready()]);
  },
  shouldReload: false,
  gcTime: 0,
});
const rooms = {
  size: () => import("@/stages/size"),
  match: () => import("@/stages/match"),
  charge: () => import("@/stages/charge"),
  run: () => import("@/stages/run"),
  keep: () => import("@/stages/keep"),
  gear: () => import("@/gear"),
  rules: () => import("@/rules"),
};

/** The state of Size lives in the address: what is picked and pinned, the aim, whether they are compared. */
const sizeSearch = (had: Held) =>
  optional({
    pick: text(had.pick),
    pins: texts(had.pins, 4),
    aim: oneOf(had.aim, ["all_round", "longest", "lightest", "coolest", "cheapest"]),
    compare: flag(had.compare),
  });

/** The state of Match: the pack in the middle, and how it would be charged. */
const matchSearch = (had: Held) =>
  optional({
    pack: text(had.pack),
    charger: text(had.charger),
    source: oneOf(had.source, ["mains", "dc"]),
    supply: text(had.supply),
    ports: number(had.ports, 1, 16),
    cells: text(had.cells),
  });

/** Gear: what is edited, and whether the import sheet is open. */
const gearSearch = (had: Held) =>
  optional({
    edit: had.edit === "new" ? ("new" as const) : number(had.edit),
    /** A new one like this. */
    twin: number(had.twin),
    /** The lead for this charger. */
    lead: number(had.lead),
    offers: flag(had.offers),
    find: text(had.find),
    files: flag(had.files),
  });

export const sizeRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/size/$model",
  validateSearch: sizeSearch,
  component: lazyRouteComponent(rooms.size, "SizeScreen"),
  ...entering(rooms.size),
});

export const matchRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/match/$model",
  validateSearch: matchSearch,
  component: lazyRouteComponent(rooms.match, "MatchScreen"),
  ...entering(rooms.match),
});

/** Charge: a pack to be laid out, by its tag. */
const chargeSearch = (had: Held) => optional({ lay: text(had.lay) });

export const chargeRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/charge/$model",
  validateSearch: chargeSearch,
  component: lazyRouteComponent(rooms.charge, "ChargeScreen"),
  ...entering(rooms.charge),
});

/** Run: the pack that is to be run, by its tag. */
const runSearch = (had: Held) => optional({ pack: text(had.pack) });

export const runRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/run/$model",
  validateSearch: runSearch,
  component: lazyRouteComponent(rooms.run, "RunScreen"),
  ...entering(rooms.run),
});

/** Keep: the pack whose page is open, by its tag. */
const keepSearch = (had: Held) => optional({ pack: text(had.pack) });

export const keepRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/keep/$model",
  validateSearch: keepSearch,
  component: lazyRouteComponent(rooms.keep, "KeepScreen"),
  ...entering(rooms.keep),
});

export const gearRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/gear/$kind",
  validateSearch: gearSearch,
  component: lazyRouteComponent(rooms.gear, "GearScreen"),
  ...entering(rooms.gear),
});

/** House rules: the set that is looked at. */
const rulesSearch = (had: Held) => optional({ set: text(had.set) });

export const rulesRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/rules",
  validateSearch: rulesSearch,
  component: lazyRouteComponent(rooms.rules, "RulesScreen"),
  ...entering(rooms.rules),
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
  validateSearch: (had: Held) => optional({ packs: texts(had.packs, 500) }),
  component: lazyRouteComponent(() => import("@/tags"), "TagsScreen"),
});

export const newModelRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/new",
  component: lazyRouteComponent(() => import("@/newmodel"), "NewModelScreen"),
});

const boxRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/box",
  component: lazyRouteComponent(() => import("@/box"), "BoxScreen"),
});

export const plugsRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/plugs",
  component: lazyRouteComponent(() => import("@/drawings"), "PlugsScreen"),
});

/** Practice reads its address itself, in its own code. */
const practiceRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/practice",
  validateSearch: (had: Held) => had,
  component: lazyRouteComponent(() => import("@/practice"), "PracticeScreen"),
});

const equipmentRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/new-equipment",
  component: lazyRouteComponent(() => import("@/equipment"), "EquipmentScreen"),
});

/** The model worked on last, or the first; none while there is none. */
async function modelOfNow(): Promise<string | undefined> {
  const models = await queries.fetchQuery({ ...modelsQuery, staleTime: 0 });
  const last = lastModel();
  return (models.find((m) => m.slug === last) ?? models[0])?.slug;
}

/** A stage without a model is that of the model worked on last. */
const shortRoutes = STAGES.map((stage) =>
  createRoute({
    getParentRoute: () => rootRoute,
    path: stage.to.replace("/$model", ""),
    beforeLoad: async () => {
      const model = (await modelOfNow()) ?? NO_MODEL;
      throw redirect({ to: stage.to, params: { model }, replace: true });
    },
  }),
);

/** Where one was last; the first page while there is no model. */
const homeRoute = createRoute({
  getParentRoute: () => rootRoute,
  path: "/",
  beforeLoad: async () => {
    const model = await modelOfNow();
    if (model) throw redirect({ to: "/size/$model", params: { model }, replace: true });
  },
  component: lazyRouteComponent(() => import("@/first"), "FirstPage"),
});

export const router = createRouter({
  defaultErrorComponent: Broken,
  routeTree: rootRoute.addChildren([
    homeRoute,
    ...shortRoutes,
    sizeRoute,
    matchRoute,
    chargeRoute,
    runRoute,
    keepRoute,
    gearRoute,
    packRoute,
    newModelRoute,
    equipmentRoute,
    boxRoute,
    plugsRoute,
    practiceRoute,
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
