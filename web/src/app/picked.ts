import { keptStore } from "@/app/store";

/** The pack that Size shows for each model, chosen or best, so that the other stages open on the same one. */
const picks = keptStore<Record<string, string>>(
  "cold-stack.picks",
  (was) => (was as Record<string, string> | undefined) ?? {},
  // they outlive a reload of this page
  () => sessionStorage,
);

export function rememberPick(model: string, id: string | undefined): void {
  if (id && picks.get()[model] !== id) picks.set({ ...picks.get(), [model]: id });
}

export function pickOf(model: string): string | undefined {
  return picks.get()[model];
}

export function usePickOf(model: string): string | undefined {
  return picks.use()[model];
}
