/** Lists that more than one screen chooses from, and the words for kinds of packs. */
export const CUTOFFS = [
  { id: "programmable", name: "yes, can be set", note: "" },
  { id: "none", name: "none", note: "" },
] as const;

export const RATINGS = [
  { id: "each", name: "each", note: "" },
  { id: "together", name: "all together", note: "" },
] as const;

export const MOTOR_KINDS = [
  { id: "false", name: "brushless", note: "" },
  { id: "true", name: "brushed", note: "" },
] as const;

export const PACK_KINDS: Record<string, string> = {
  owned: "owned",
  now: "what it runs on now",
  typical: "typical of what is sold",
  "on offer": "on offer",
  catalogue: "in the catalogue",
  "series pair": "two in series",
  "parallel pair": "two in parallel",
  "cell build": "built from cells",
  generic: "made up, to show what would do",
};
