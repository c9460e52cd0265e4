/** The stages that are built, in the order of the work; those to come are absent, not dead. */
export const STAGES = [
  { name: "Size", to: "/size/$model" },
  { name: "Match", to: "/match/$model" },
  { name: "Charge", to: "/charge/$model" },
] as const;

type Search = { pick?: string | undefined; pack?: string | undefined };

/** The pack that is looked at goes along from stage to stage. */
export function carried(to: (typeof STAGES)[number]["to"], search: Search): Search {
  const pack = search.pick ?? search.pack;
  if (!pack || to === "/charge/$model") return {};
  return to === "/size/$model" ? { pick: pack } : { pack };
}
