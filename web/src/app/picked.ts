import { useSyncExternalStore } from "react";

/** The pack that Size shows for each model, chosen or best, so that the other stages open on the same one. */
const KEPT = "cold-stack.picks";
const picks = new Map<string, string>(kept());
const listeners = new Set<() => void>();

/** They outlive a reload of this page. */
function kept(): [string, string][] {
  try {
    return Object.entries(JSON.parse(sessionStorage.getItem(KEPT) ?? "{}") as Record<string, string>);
  } catch {
    return [];
  }
}

export function rememberPick(model: string, id: string | undefined): void {
  if (!id || picks.get(model) === id) return;
  picks.set(model, id);
  try {
    sessionStorage.setItem(KEPT, JSON.stringify(Object.fromEntries(picks)));
  } catch {
    // the page itself still knows
  }
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
