import { useNavigate, useSearch } from "@tanstack/react-router";
import { useCallback, useMemo } from "react";
import type { ChargeAsk } from "@/api/types";

export type MatchSearch = {
  pack?: string | undefined;
  charger?: string | undefined;
  source?: "mains" | "dc" | undefined;
  supply?: string | undefined;
  ports?: number | undefined;
  cells?: string | undefined;
};

export type MatchChoice = {
  pack: string | undefined;
  charge: ChargeAsk;
  cells: string;
  set: (part: MatchSearch) => void;
};

/** The pack in the middle and how it would be charged. In the address, so that reload and back work. */
export function useMatchChoice(): MatchChoice {
  const search = useSearch({ from: "/match/$model" });
  const navigate = useNavigate({ from: "/match/$model" });
  const set = useCallback(
    (part: MatchSearch) =>
      void navigate({ search: (old) => ({ ...old, ...part }), resetScroll: false, replace: true }),
    [navigate],
  );
  return useMemo(() => {
    return { pack: search.pack, charge: chargeAsk(search), cells: search.cells ?? "", set };
  }, [search, set]);
}

/** How it would be charged, by what the address says. */
export function chargeAsk({ charger, source, supply, ports, cells = "" }: MatchSearch): ChargeAsk {
  return {
    charger: charger ?? null,
    source: source ?? null,
    supply: supply ?? null,
    ports_in_use: ports ?? 1,
    cells,
  };
}
