import { useSyncExternalStore } from "react";

/** The pack that Size shows for each model, chosen or best, so that the other stages open on the same one. */
const picks = new Map<string, string>();
const listeners = new Set<() => void>();

export function rememberPick(model: string, id: string | undefined): void {
  if (!id || picks.get(model) === id) return;
  picks.set(model, id);
  for (const listener of listeners) listener();
}

export function usePickOf(model: string): string | undefined {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => picks.get(model),
  );
}
