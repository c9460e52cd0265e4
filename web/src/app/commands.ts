import { useEffect } from "react";
import { store } from "@/app/store";

export type Command = { id: string; name: string; hint?: string; run: () => unknown };

/** Commands that screens offer while they are shown; the command list reads them. */
const offered = new Map<string, Command[]>();
const all = store<Command[]>([]);

function changed(): void {
  all.set([...offered.values()].flat());
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

export const useOffered = all.use;
