import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useMemo } from "react";
import { answered, client } from "@/api/client";
import type { Found } from "@/api/types";
import type { Command } from "@/app/commands";
import { usePreferences } from "@/format/preferences";
import { momentWords } from "@/format/time";

/** One letter finds everything. */
const LEAST = 2;

/** Packs by their notes, and what was said of them, as things to go to. */
export function useWordsFound(words: string, model: string): Command[] {
  const navigate = useNavigate();
  const p = usePreferences();
  const asked = words.trim();
  const { data } = useQuery({
    queryKey: ["search", asked],
    meta: { reads: ["life", "gear"] },
    queryFn: ({ signal }): Promise<Found> =>
      answered(client.GET("/api/keep/search", { params: { query: { words: asked } }, signal })),
    enabled: asked.length >= LEAST,
    placeholderData: keepPreviousData,
    gcTime: 60_000,
    retry: false,
  });
  return useMemo(() => {
    if (!data || asked.length < LEAST) return [];
    const open = (pack: string) => () =>
      void navigate({ to: "/keep/$model", params: { model }, search: { pack } });
    return [
      ...data.packs
        .filter((x) => x.note)
        .map((x) => ({
          id: `noted-${x.tag}`,
          name: `${x.tag}: “${x.note}”`,
          hint: x.name,
          run: open(x.tag),
        })),
      ...data.said.map((x) => ({
        id: `said-${x.id}`,
        name: `${x.tag}: ${x.text}`,
        hint: momentWords(x.at, p),
        run: open(x.tag),
      })),
    ];
  }, [data, asked, navigate, model, p]);
}
