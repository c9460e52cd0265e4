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
  /** What in the typed cell readings is no number; nothing is asked with it. */
  cellsProblem: string | undefined;
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
    const cells = search.cells ?? "";
    const wrong = wrongWord(cells);
    return {
      pack: search.pack,
      charge: chargeAsk(search),
      cells,
      cellsProblem: wrong ? `“${wrong.slice(0, 16)}” is not a number.` : undefined,
      set,
    };
  }, [search, set]);
}

const wordsOf = (cells: string) =>
  cells
    .trim()
    .split(/[\s;/]+/)
    .filter(Boolean);
const wrongWord = (cells: string) => wordsOf(cells).find((w) => !/^\d+([.,]\d+)?$/.test(w));

/** How it would be charged, by what the address says. */
export function chargeAsk({ charger, source, supply, ports, cells = "" }: MatchSearch): ChargeAsk {
  return {
    charger: charger ?? null,
    source: source ?? null,
    supply: supply ?? null,
    ports_in_use: ports ?? 1,
    cell_v: wrongWord(cells) ? [] : wordsOf(cells).map((w) => Number(w.replace(",", "."))),
  };
}
