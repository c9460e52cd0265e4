import { useEffect, useSyncExternalStore } from "react";

export type Command = { id: string; name: string; hint?: string; run: () => void };

/** Commands that screens offer while they are shown; the command list reads them. */
const offered = new Map<string, Command[]>();
const listeners = new Set<() => void>();
let snapshot: Command[] = [];

function changed(): void {
  snapshot = [...offered.values()].flat();
  for (const listener of listeners) listener();
}

export function useOffer(owner: string, commands: Command[]): void {
  useEffect(() => {
    offered.set(owner, commands);
    changed();
    return () => {
      offered.delete(owner);
      changed();
    };
  }, [owner, commands]);
}

export function useOffered(): Command[] {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => snapshot,
  );
}
