import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { Answers, Described, Have, NewModel } from "@/api/types";

export const describedQuery = (answers: Answers) =>
  queryOptions({
    queryKey: ["described", answers],
    meta: { reads: ["gear", "rules"] },
    queryFn: ({ signal }): Promise<Described> => describe(answers, signal),
    placeholderData: keepPreviousData,
    gcTime: 60_000,
    retry: false,
  });

/** The model, and of its packs those that are here: all or nothing. */
export function addDescribed(answers: Answers, have: Have): Promise<NewModel> {
  return answered(client.POST("/api/new-model", { body: { answers, have } }));
}

function describe(answers: Answers, signal?: AbortSignal): Promise<Described> {
  const call = client.POST("/api/describe-model", { body: answers, ...(signal ? { signal } : {}) });
  return answered(call);
}
