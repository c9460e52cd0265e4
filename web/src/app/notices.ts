import { store } from "@/app/store";

/** One short message at the foot of the page, with what can be done about it: "Deleted pack 07", Undo. */
export type Notice = { id: number; words: string; wrong?: boolean; act?: { name: string; run: () => void } };

const SHOWN_MS = 12_000;
const current = store<Notice | undefined>(undefined);
let count = 0;
let timer: number | undefined;

export function notify(words: string, options: Omit<Notice, "id" | "words"> = {}): void {
  count += 1;
  window.clearTimeout(timer);
  timer = window.setTimeout(dismiss, SHOWN_MS);
  current.set({ id: count, words, ...options });
}

export function dismiss(): void {
  current.set(undefined);
}

export const useNotice = current.use;
