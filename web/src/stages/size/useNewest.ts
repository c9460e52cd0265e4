import { type QueryKey, type UseQueryOptions, type UseQueryResult, useQuery } from "@tanstack/react-query";
import { useState } from "react";

/**
 * What is asked of a value, and the value that the answer belongs to, which follows its source only while
 * nothing is under way: while a line is dragged each answer is waited for and the newest value is asked
 * next, so that the server is never left with a queue of questions that nobody wants any more.
 */
export function useNewest<V, T, K extends QueryKey>(
  source: V,
  ask: (value: V) => UseQueryOptions<T, Error, T, K>,
): [V, UseQueryResult<T>] {
  const [asked, setAsked] = useState(source);
  const answer = useQuery(ask(asked));
  if (asked !== source && !answer.isFetching) setAsked(source);
  return [asked, answer];
}
