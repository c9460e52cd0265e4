import type { FetchQueryOptions, QueryKey } from "@tanstack/react-query";
import { queries } from "@/app/queryClient";

/** As long as a screen waits for its answers before it is painted without them. */
const PATIENCE_MS = 1200;

/** What a first paint needs, waited for, but not for long; what fails, the screen itself tells. */
export async function soon(asked: readonly Promise<unknown>[]): Promise<void> {
  const late = new Promise((done) => setTimeout(done, PATIENCE_MS));
  await Promise.race([Promise.allSettled(asked), late]);
}

/** An answer that is here already, however old, or comes. */
export function had<T, K extends QueryKey>(query: FetchQueryOptions<T, Error, T, K>): Promise<T> {
  return queries.fetchQuery({ ...query, staleTime: "static" });
}
