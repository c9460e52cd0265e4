import { type QueryClient, queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { Have, ModelLine, OwnedNow, RunsOnNow } from "@/api/types";
import { perform, type Verb } from "@/app/act";
import { notify } from "@/app/notices";
import { ownedId } from "@/format/packId";

/** Nobody said that any of it is here. */
export const NONE_HERE: Have = { count: 0, state: "" };

/** What a model runs on now, and whether that is in the box. */
export const runsOnQuery = (model: string) =>
  queryOptions({
    queryKey: ["runs-on", model],
    meta: { reads: ["gear"] },
    queryFn: ({ signal }): Promise<RunsOnNow> =>
      answered(client.GET("/api/models/{slug}/runs-on", { params: { path: { slug: model } }, signal })),
    retry: false,
  });

/** Models told to run on such a pack, of which nobody said that it is in the box. */
export const modelsOnQuery = (tag: string) =>
  queryOptions({
    queryKey: ["models-on", tag],
    meta: { reads: ["gear"] },
    queryFn: ({ signal }): Promise<ModelLine[]> =>
      answered(client.GET("/api/models-on", { params: { query: { pack: ownedId(tag) } }, signal })),
    retry: false,
  });

export function ownNow(model: string, have: Have): Promise<OwnedNow> {
  return answered(
    client.POST("/api/models/{slug}/runs-on", { params: { path: { slug: model } }, body: have }),
  );
}

function keepNow(model: string, pack: string): Promise<RunsOnNow> {
  const params = { path: { slug: model } };
  return answered(client.PUT("/api/models/{slug}/runs-on", { params, body: { pack } }));
}

/** This pack of the box is the one that the model runs on; and that it is not after all. */
export function linkVerb(model: ModelLine, tag: string): Verb<RunsOnNow> {
  return {
    act: () => keepNow(model.slug, ownedId(tag)),
    touches: ["gear"],
    fails: "It could not be kept.",
    says: () => `${tag} is what ${model.name} runs on now`,
    undo: () => ({
      act: () => keepNow(model.slug, ""),
      touches: ["gear"],
      fails: "It could not be taken back.",
    }),
  };
}

/** A pack that was just added and looks like what a model runs on is asked about. */
export async function askIfNow(queries: QueryClient, tag: string): Promise<void> {
  const [model] = await queries.fetchQuery({ ...modelsOnQuery(tag), staleTime: 0 });
  if (!model) return;
  notify(`Added ${tag}. Is it what ${model.name} runs on now?`, {
    act: { name: "Yes, it is", run: () => void perform(queries, linkVerb(model, tag)) },
  });
}
