import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { Effects, RuleSet, Rules } from "@/api/types";

export const rulesQuery = queryOptions({
  queryKey: ["rules"],
  meta: { reads: ["rules"] },
  queryFn: ({ signal }): Promise<Rules> => answered(client.GET("/api/rules", { signal })),
});

export const effectsQuery = (id: string, model: string, pack: string | undefined) =>
  queryOptions({
    queryKey: ["effects", id, model, pack],
    meta: { reads: ["rules", "gear", "life"] },
    queryFn: ({ signal }): Promise<Effects> =>
      answered(
        client.GET("/api/rules/sets/{rules_id}/effects", {
          params: { path: { rules_id: id }, query: { model, ...(pack ? { pack } : {}) } },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  });

type SetDraft = { values: Record<string, number>; name?: string; note?: string };

export function changeSet(id: string, body: SetDraft, version: string): Promise<RuleSet> {
  const params = { path: { rules_id: id }, header: { "If-Match": version } };
  return answered(client.PUT("/api/rules/sets/{rules_id}", { params, body }));
}

/** A set as the server has it now; none if it is gone. */
export async function fetchSet(id: string): Promise<RuleSet | undefined> {
  const rules: Rules = await answered(client.GET("/api/rules"));
  return rules.sets.find((s) => s.id === id);
}

export function addSet(name: string, copyOf: string): Promise<RuleSet> {
  return answered(client.POST("/api/rules/sets", { body: { name, copy_of: copyOf } }));
}

export function removeSet(id: string): Promise<Rules> {
  return answered(client.DELETE("/api/rules/sets/{rules_id}", { params: { path: { rules_id: id } } }));
}

export function bringBack(id: string): Promise<Rules> {
  return answered(client.POST("/api/rules/sets/{rules_id}/back", { params: { path: { rules_id: id } } }));
}

export function goBy(id: string): Promise<Rules> {
  return answered(client.PUT("/api/rules/house", { body: { house_rules: id } }));
}
