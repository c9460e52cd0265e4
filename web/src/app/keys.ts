import { useEffect } from "react";

function typing(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  // a box to tick takes no letters
  const typed = "input:not([type=checkbox], [type=radio], [type=button]), textarea, select";
  return target.matches(typed) || target.isContentEditable;
}

/**
 * Keys of the whole program: "mod+k" means Ctrl or Cmd. Plain keys do nothing while a field is being typed
 * in.
 */
export function useKeys(keys: Record<string, () => unknown>): void {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const mod = event.ctrlKey || event.metaKey;
      const name = `${mod ? "mod+" : ""}${mod && event.shiftKey ? "shift+" : ""}${event.key.toLowerCase()}`;
      const act = keys[name];
      if (!act || event.altKey) return;
      if (typing(event.target) && name !== "mod+k") return;
      event.preventDefault();
      act();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [keys]);
}
