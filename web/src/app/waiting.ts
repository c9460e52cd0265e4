import { store } from "@/app/store";

/** What is kept of an earlier visit: runs and looks that wait, a timer that runs, what was taken along. */
const KEPT = ["to-send", "timer", "along"];

/** Whether there is anything of it, or a room came that may keep some. Until then the lines that tell of it,
 *  and all behind them, need not come. */
const wanted = store(had());
export const useWanted = wanted.use;
export const wantLine = () => wanted.set(true);

function had(): boolean {
  try {
    return KEPT.some((name) => (localStorage[`cold-stack.${name}`] ?? "").length > 2);
  } catch {
    return false;
  }
}
