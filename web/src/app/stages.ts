/** The stages that are built, in the order of the work; those to come are absent, not dead. */
export const STAGES = [{ name: "Size", to: "/size/$model" }] as const;
