import { queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { PracticeAsk, PracticeJudged, PracticeKind, PracticeTask } from "@/api/types";
import type { Part } from "@/app/reads";

/** An answer by question: a number, the id of a choice, or several ids in their order. */
export type Said = Record<string, number | string | string[]>;

export const kindsQuery = queryOptions({
  queryKey: ["practice-kinds"],
  queryFn: ({ signal }): Promise<PracticeKind[]> => answered(client.GET("/api/practice/kinds", { signal })),
  staleTime: Number.POSITIVE_INFINITY,
});

/** One task: the same for the same kind, level and seed, by the house rules in force. */
export const taskQuery = (ask: PracticeAsk) =>
  queryOptions({
    queryKey: ["practice-task", ask],
    meta: { reads: ["rules"] as Part[] },
    queryFn: ({ signal }): Promise<PracticeTask> =>
      answered(client.POST("/api/practice/task", { body: ask, signal })),
    retry: false,
  });

export const judge = (ask: PracticeAsk, answers: Said): Promise<PracticeJudged> =>
  answered(client.POST("/api/practice/answer", { body: { ...ask, answers } }));
