import type { QueryClient } from "@tanstack/react-query";

/** What a query reads and an act touches: lives of packs, gear, house rules, the bench, charges, the day
 *  ahead, what is practised. */
export type Part = "life" | "gear" | "rules" | "bench" | "charges" | "day" | "practice";

declare module "@tanstack/react-query" {
  interface Register {
    queryMeta: { reads?: Part[] };
  }
}

/** Whoever reads one of these on this page asks anew. */
export function asksAnew(queries: QueryClient, parts: Part[]): void {
  const all = queries.getQueryCache().findAll({
    predicate: (query) => Boolean(query.meta?.reads?.some((part) => parts.includes(part))),
  });
  for (const { queryKey, state } of all) {
    const exact = { queryKey, exact: true };
    // a first answer that is still on its way is older than what was just done
    if (state.data === undefined)
      void queries.cancelQueries(exact).then(() => queries.invalidateQueries(exact));
    else void queries.invalidateQueries(exact);
  }
  // a bench that is not looked at is fetched when it is: what was read before may not hold any more
  if (parts.includes("life")) queries.removeQueries({ queryKey: ["bench"], type: "inactive" });
}
