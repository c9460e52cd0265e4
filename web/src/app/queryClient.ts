import { QueryClient } from "@tanstack/react-query";

export const queries = new QueryClient({
  defaultOptions: {
    // the server is on this machine or in this network: the browser's idea of being offline says nothing of it
    queries: { staleTime: 60_000, retry: 1, refetchOnWindowFocus: false, networkMode: "always" },
    mutations: { networkMode: "always" },
  },
});
