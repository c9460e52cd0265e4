import { keptStore } from "@/app/store";

/** What this device took along for days without a line: of which models, how much came, and until when. */
export type Along = { models: string[]; came: number; of: number; until: number | null };

export const along = keptStore<Along | undefined>("cold-stack.along", (was) => {
  const kept = was as Along | undefined;
  return Array.isArray(kept?.models) ? kept : undefined;
});
