import type { QueryClient } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import { ApiProblem } from "@/api/problem";
import { along } from "@/app/along";
import { choicesQuery, modelQuery, modelsQuery } from "@/app/queries";
import { dayAheadQuery, keptDayQuery } from "@/app/tomorrow";
import { safetyQuery } from "@/safety/query";
import { pageQuery, placeQuery, shelfQuery } from "@/stages/keep/queries";
import { keepKit, keptKit } from "@/stages/run/kits";
import { landingsQuery, runPacksQuery, runsQuery } from "@/stages/run/queries";
import { askedNow } from "@/stages/run/useKit";

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

async function all(queries: QueryClient, models: string[]): Promise<void> {
  const had = along.get();
  const told = { models, came: 0, of: 0, until: had?.until ?? null };
  const step = async (work: () => Promise<unknown>) => {
    try {
      await work();
      told.came += 1;
    } catch (problem) {
      // gone since, and nothing to take; without a line it did not come
      if (problem instanceof ApiProblem && problem.status !== 0) told.of -= 1;
    }
    along.set({ ...told });
  };
  // for a whole day: what nobody looks at meanwhile is not let go
  const anew = { staleTime: 0, gcTime: Number.POSITIVE_INFINITY };
  const steps: (() => Promise<unknown>)[] = [
    () => queries.fetchQuery({ ...modelsQuery, ...anew }),
    () => queries.fetchQuery({ ...choicesQuery, ...anew }),
    () => queries.fetchQuery({ ...shelfQuery, ...anew }),
    () => queries.fetchQuery({ ...placeQuery, ...anew }),
    () => queries.fetchQuery({ ...safetyQuery, ...anew }),
    () => queries.fetchQuery({ ...landingsQuery, ...anew }),
    () => queries.fetchQuery({ ...keptDayQuery, ...anew }),
    () => queries.fetchQuery({ ...dayAheadQuery, ...anew }),
  ];
  let until = Number.POSITIVE_INFINITY;
  const pages = new Set<string>();
  for (const model of models) {
    steps.push(() => queries.fetchQuery({ ...modelQuery(model), ...anew }));
    steps.push(() => queries.fetchQuery({ ...runPacksQuery(model), ...anew }));
    steps.push(() => queries.fetchQuery({ ...runsQuery(model), ...anew }));
    const found = await marksOf(model);
    // without them nobody knows how much there is: the model did not come
    steps.push(() => (found ? Promise.resolve() : Promise.reject(new Error("no line"))));
    for (const { tag, fingerprint, marks } of found ?? []) {
      pages.add(tag);
      steps.push(async () => {
        until = Math.min(until, await kitOf(model, tag, fingerprint, marks));
      });
    }
  }
  for (const tag of pages) steps.push(() => queries.fetchQuery({ ...pageQuery(tag), ...anew }));
  told.of = steps.length;
  along.set({ ...told });
  for (const one of steps) await step(one);
  along.set({ ...told, until: Number.isFinite(until) ? until : told.until });
}

type Mark = {
  tag: string;
  fingerprint: string;
  marks: { made: string; job: string; got: number; told: number };
};

/** Undefined without a line; none of a model that is gone. */
async function marksOf(model: string): Promise<Mark[] | undefined> {
  const asked = askedNow();
  try {
    const { kits, made, job } = await answered(client.GET("/api/run/kits", { params: { query: { model } } }));
    return kits.map((kit) => ({ ...kit, marks: { made, job, ...asked } }));
  } catch (problem) {
    return problem instanceof ApiProblem && problem.status !== 0 ? [] : undefined;
  }
}

/** Until when it may be trusted. */
async function kitOf(model: string, tag: string, fingerprint: string, marks: Mark["marks"]): Promise<number> {
  const had = keptKit(undefined, model, tag);
  if (had?.kit.fingerprint === fingerprint) {
    keepKit(model, { ...had, ...marks });
    return marks.got + had.kit.good_h * HOUR_MS;
  }
  const asked = askedNow();
  const query = { model, pack: tag };
  const kit = await answered(client.GET("/api/run/kit", { params: { query } }));
  keepKit(model, { ...kit, ...asked });
  return asked.got + kit.kit.good_h * HOUR_MS;
}
