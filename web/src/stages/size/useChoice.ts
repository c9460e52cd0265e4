import { useNavigate, useSearch } from "@tanstack/react-router";
import { useCallback, useMemo } from "react";
import type { Aim } from "@/api/types";

export type Chosen = {
  pick: string | undefined;
  pins: string[];
  aim: Aim;
  comparing: boolean;
  setPick: (id: string) => void;
  togglePin: (id: string) => void;
  setAim: (aim: Aim) => void;
  setComparing: (on: boolean) => void;
};

export const MOST_PINS = 4;

/** What is picked, pinned and compared. It lives in the address, so that reload and back work. */
export function useChoice(): Chosen {
  const search = useSearch({ from: "/size/$model" });
  const navigate = useNavigate({ from: "/size/$model" });
  const set = useCallback(
    (part: Partial<typeof search>, replace = false) =>
      void navigate({ search: (old) => ({ ...old, ...part }), replace, resetScroll: false }),
    [navigate],
  );
  return useMemo(() => {
    const pins = search.pins ?? [];
    return {
      pick: search.pick,
      pins,
      aim: search.aim ?? "all_round",
      comparing: search.compare === true && pins.length > 1,
      setPick: (id) => set({ pick: id }),
      togglePin: (id) => {
        const next = pins.includes(id) ? pins.filter((p) => p !== id) : [...pins, id].slice(-MOST_PINS);
        set({ pins: next.length ? next : undefined, ...(next.length < 2 ? { compare: undefined } : {}) });
      },
      setAim: (aim) => set({ aim: aim === "all_round" ? undefined : aim, pick: undefined }),
      setComparing: (on) => set({ compare: on ? true : undefined }),
    };
  }, [search, set]);
}
