import type { QueryClient } from "@tanstack/react-query";
import { ApiProblem } from "@/api/problem";
import type { KitMarks } from "@/api/types";
import { along } from "@/app/along";
import { choicesQuery, modelQuery, modelsQuery } from "@/app/queries";
import { dayAheadQuery, keptDayQuery } from "@/app/tomorrow";
import { safetyQuery } from "@/safety/query";
import { pageQuery, placeQuery, shelfQuery } from "@/stages/keep/queries";
import { type Asked, KITS_AT_ONCE, kitMarks, takeKits } from "@/stages/run/kits";
import { landingsQuery, runPacksQuery, runsQuery } from "@/stages/run/queries";

const HOUR_MS = 3_600_000;
let going: Promise<void> | undefined;

/** Everything for these models, one after the other: packs with their kits and pages, runs, safety. Told as
 *  it comes; without a line what came before stays. */
export function takeAlong(queries: QueryClient, models: string[]): Promise<void> {
  // what is asked for meanwhile comes after: other models, or the same anew
  const after = going ?? Promise.resolve();
  const mine = after
    .then(() => all(queries, models))
    .finally(() => {
      if (going === mine) going = undefined;
    });
  going = mine;
  return mine;
}

/** A piece of it: so many things, of which so many came, the others being gone. */
type Piece = { of: number; take: () => Promise<number> };

async function all(queries: QueryClient, models: string[]): Promise<void> {
  const had = along.get();
  const told = { models, came: 0, of: 0, until: had?.until ?? null };
  // for a whole day: what nobody looks at meanwhile is not let go
  const anew = { staleTime: 0, gcTime: Number.POSITIVE_INFINITY };
  const one = (take: () => Promise<unknown>): Piece => ({ of: 1, take: () => take().then(() => 1) });
  const pieces: Piece[] = [
    one(() => queries.fetchQuery({ ...modelsQuery, ...anew })),
    one(() => queries.fetchQuery({ ...choicesQuery, ...anew })),
    one(() => queries.fetchQuery({ ...shelfQuery, ...anew })),
    one(() => queries.fetchQuery({ ...placeQuery, ...anew })),
    one(() => queries.fetchQuery({ ...safetyQuery, ...anew })),
    one(() => queries.fetchQuery({ ...landingsQuery, ...anew })),
    one(async () => {
      const { asked } = await queries.fetchQuery({ ...keptDayQuery, ...anew });
      // without a day there is nothing that it plans
      if (asked) await queries.fetchQuery({ ...dayAheadQuery, ...anew });
    }),
  ];
  let until = Number.POSITIVE_INFINITY;
  const pages = new Set<string>();
  for (const model of models) {
    pieces.push(one(() => queries.fetchQuery({ ...modelQuery(model), ...anew })));
    pieces.push(one(() => queries.fetchQuery({ ...runPacksQuery(model), ...anew })));
    pieces.push(one(() => queries.fetchQuery({ ...runsQuery(model), ...anew })));
    const marks = await marksOf(model);
    // without them nobody knows how much there is: the model did not come
    pieces.push(one(() => (marks ? Promise.resolve() : Promise.reject(new Error("no line")))));
    if (!marks || marks === "gone") continue;
    for (const { tag } of marks.kits) pages.add(tag);
    for (let k = 0; k < marks.kits.length; k += KITS_AT_ONCE) {
      const some = marks.kits.slice(k, k + KITS_AT_ONCE);
      const take = async () => {
        const kits = await takeKits(model, marks, some);
        until = Math.min(until, ...kits.map(({ got, kit }) => got + kit.good_h * HOUR_MS));
        return kits.length;
      };
      pieces.push({ of: some.length, take });
    }
  }
  for (const tag of pages) pieces.push(one(() => queries.fetchQuery({ ...pageQuery(tag), ...anew })));
  told.of = pieces.reduce((sum, { of }) => sum + of, 0);
  along.set({ ...told });
  for (const { of, take } of pieces) {
    try {
      const came = await take();
      told.came += came;
      told.of -= of - came;
    } catch (problem) {
      // gone since, and nothing to take; without a line it did not come
      if (problem instanceof ApiProblem && problem.status !== 0) told.of -= of;
    }
    along.set({ ...told });
  }
  along.set({ ...told, until: Number.isFinite(until) ? until : told.until });
}

/** Undefined without a line; none of a model that is gone. */
async function marksOf(model: string): Promise<Asked<KitMarks> | "gone" | undefined> {
  try {
    return await kitMarks(model);
  } catch (problem) {
    return problem instanceof ApiProblem && problem.status !== 0 ? "gone" : undefined;
  }
}
