import { useNavigate, useSearch } from "@tanstack/react-router";
import { useCallback, useMemo } from "react";
import type { ChargeAsk } from "@/api/types";

type Search = {
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
  /** What in the typed cell readings is no number; nothing is asked with it. */
  cellsProblem: string | undefined;
  set: (part: Search) => void;
};

/** The pack in the middle and how it would be charged. In the address, so that reload and back work. */
export function useMatchChoice(): MatchChoice {
  const search = useSearch({ from: "/match/$model" });
  const navigate = useNavigate({ from: "/match/$model" });
  const set = useCallback(
    (part: Search) =>
      void navigate({ search: (old) => ({ ...old, ...part }), resetScroll: false, replace: true }),
    [navigate],
  );
  return useMemo(() => {
    const cells = search.cells ?? "";
    const words = cells
      .trim()
      .split(/[\s;/]+/)
      .filter(Boolean);
    const wrong = words.find((w) => !/^\d+([.,]\d+)?$/.test(w));
    return {
      pack: search.pack,
      charge: {
        charger: search.charger ?? null,
        source: search.source ?? null,
        supply: search.supply ?? null,
        ports_in_use: search.ports ?? 1,
        cell_v: wrong ? [] : words.map((w) => Number(w.replace(",", "."))),
      },
      cells,
      cellsProblem: wrong ? `“${wrong.slice(0, 16)}” is not a number.` : undefined,
      set,
    };
  }, [search, set]);
}
