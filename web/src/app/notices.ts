import { useSyncExternalStore } from "react";

/** One short message at the foot of the page, with what can be done about it: "Deleted pack 07", Undo. */
export type Notice = { id: number; words: string; wrong?: boolean; act?: { name: string; run: () => void } };

const SHOWN_MS = 12_000;
const listeners = new Set<() => void>();
let current: Notice | undefined;
let count = 0;
let timer: number | undefined;

function changed(): void {
  for (const listener of listeners) listener();
}

export function notify(words: string, options: Omit<Notice, "id" | "words"> = {}): void {
  count += 1;
  current = { id: count, words, ...options };
  window.clearTimeout(timer);
  timer = window.setTimeout(dismiss, SHOWN_MS);
  changed();
}

export function dismiss(): void {
  current = undefined;
  changed();
}

export function useNotice(): Notice | undefined {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => current,
  );
}
