import { queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { Choices, Model, ModelKind, ModelLine, PackRow } from "@/api/types";
import { heard } from "@/app/documentStore";

export const modelsQuery = queryOptions({
  queryKey: ["models"],
  meta: { reads: ["gear"] },
  queryFn: ({ signal }): Promise<ModelLine[]> => answered(client.GET("/api/models", { signal })),
});

/** A model's job among the documents that are edited here. */
export const jobName = (slug: string) => `job:${slug}`;

export const modelQuery = (slug: string) =>
  queryOptions({
    queryKey: ["model", slug],
    meta: { reads: ["gear"] },
    queryFn: async ({ signal }) => {
      const got = await answered(client.GET("/api/models/{slug}", { params: { path: { slug } }, signal }));
      const model = got as Model;
      heard(jobName(slug), { value: model.job, version: model.version });
      return model;
    },
    staleTime: Number.POSITIVE_INFINITY,
  });

export const choicesQuery = queryOptions({
  queryKey: ["choices"],
  meta: { reads: ["gear", "rules"] },
  queryFn: ({ signal }): Promise<Choices> => answered(client.GET("/api/choices", { signal })),
  staleTime: Number.POSITIVE_INFINITY,
});

/** The packs in the box, for choosing one; the gear screens ask by the same key. */
export const ownedQuery = queryOptions({
  queryKey: ["gear", "packs"],
  meta: { reads: ["life", "gear", "rules"] },
  queryFn: async ({ signal }) => (await answered(client.GET("/api/gear/packs", { signal }))) as PackRow[],
});

/** What a model can be. */
export const modelKindsQuery = queryOptions({
  queryKey: ["model-kinds"],
  queryFn: ({ signal }): Promise<ModelKind[]> => answered(client.GET("/api/model-kinds", { signal })),
  staleTime: Number.POSITIVE_INFINITY,
});
