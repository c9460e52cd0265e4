import { useQuery } from "@tanstack/react-query";
import { useNavigate, useSearch } from "@tanstack/react-router";
import { useMemo } from "react";
import { flag, number, oneOf, text, texts } from "@/app/held";
import { keptStore } from "@/app/store";
import { worldQuery } from "@/app/world";

export const LEVELS = [
  { id: "first_day", name: "first day" },
  { id: "season", name: "a season" },
  { id: "expert", name: "expert" },
] as const;
export type Level = (typeof LEVELS)[number]["id"];
export const levelName = (id: string) => LEVELS.find((x) => x.id === id)?.name ?? id;

const MOST_SEED = 2 ** 31 - 1;
const MOST_STEPS = 60;

/** What stands in the address: who practises, which task, whether of one's own gear; or a sheet to print. */
export type Address = {
  who?: number | undefined;
  kind?: string | undefined;
  level?: Level | undefined;
  seed?: number | undefined;
  own?: boolean | undefined;
  sheet?: boolean | undefined;
  steps?: string[] | undefined;
  count?: number | undefined;
  rules?: string | undefined;
};

/** Who practised last in each world, to open with: the demo's people are not one's own. */
const lastWho = keptStore("cold-stack.practice-who", (kept) => ({ ...(kept as Record<string, unknown>) }));

/** The address, read; and a way to another one. Nobody is who 0. */
export function useAddress() {
  const held: Record<string, unknown> = useSearch({ strict: false });
  const go = useNavigate();
  const world = useQuery(worldQuery).data?.world ?? "";
  const last = number(lastWho.use()[world], 1);
  const at = useMemo<Address>(
    () => ({
      who: number(held.who, 0, Number.MAX_SAFE_INTEGER) ?? last,
      kind: text(held.kind),
      level: oneOf(
        held.level,
        LEVELS.map((x) => x.id),
      ),
      seed: number(held.seed),
      own: flag(held.own),
      sheet: flag(held.sheet),
      steps: texts(held.steps, MOST_STEPS),
      count: number(held.count),
      rules: text(held.rules),
    }),
    [held, last],
  );
  const to = (search: Address, replace = true) => {
    if (search.who !== undefined) lastWho.update((now) => ({ ...now, [world]: search.who }));
    void go({ to: "/practice", search, replace });
  };
  return { at, to };
}

/** Any task is as good as another. */
export const anySeed = () => Math.floor(Math.random() * MOST_SEED);
