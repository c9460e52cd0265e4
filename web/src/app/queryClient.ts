import { QueryClient } from "@tanstack/react-query";
import { ApiProblem } from "@/api/problem";

/** For what changes behind the screens: fresh whenever it is looked at, asked once for one look. [ms] */
export const ONE_LOOK_MS = 1000;

export const queries = new QueryClient({
  defaultOptions: {
    // the server is on this machine or in this network: the browser's idea of being offline means nothing
    queries: {
      staleTime: 60_000,
      // what was refused stays refused
      retry: (count, error) => count < 1 && !(error instanceof ApiProblem && error.status >= 400),
      refetchOnWindowFocus: false,
      networkMode: "always",
    },
    mutations: { networkMode: "always" },
  },
});
