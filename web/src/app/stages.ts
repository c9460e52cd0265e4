import { ownedId, ownedTag } from "@/format/packId";

/** The stages that are built, in the order of the work; those to come are absent, not dead. */
export const STAGES = [
  { name: "Size", key: "1", to: "/size/$model" },
  { name: "Match", key: "2", to: "/match/$model" },
  { name: "Charge", key: "3", to: "/charge/$model" },
  { name: "Run", key: "4", to: "/run/$model" },
  { name: "Keep", key: "5", to: "/keep/$model" },
] as const;

type Search = { pick?: string | undefined; pack?: string | undefined };

/**
 * The pack that is looked at goes along from stage to stage; where none is named, the one that Size last
 * showed.
 */
export function carried(to: (typeof STAGES)[number]["to"], search: Search, shown?: string): Search {
  const pack = search.pick ?? search.pack ?? (to === "/match/$model" ? shown : undefined);
  if (!pack || to === "/charge/$model") return {};
  const tag = ownedTag(pack);
  if (to === "/keep/$model" || to === "/run/$model") return tag === undefined ? {} : { pack: tag };
  // Keep and Run name a pack by its tag alone
  const id = pack.includes(":") ? pack : ownedId(pack);
  return to === "/size/$model" ? { pick: id } : { pack: id };
}
