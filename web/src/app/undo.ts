import type { DocumentStore } from "@/app/documentStore";
import { merge } from "@/app/merge";
import { notify } from "@/app/notices";
import { store } from "@/app/store";

/** What would do it again; nothing if that cannot be; false if it could not be taken back, and stays. */
type Taken = Step | undefined | false;

/** One thing that can be taken back, wherever in the program it was done. */
export type Step = {
  label: string;
  take: () => Promise<Taken> | Taken;
  /** What it was done to, and where that is looked at: taken back from elsewhere it is said. */
  of?: { document: object; made: { now: unknown }; path: string; name: string };
};
type Steps = { done: readonly Step[]; undone: readonly Step[] };

const MOST = 100;
const steps = store<Steps>({ done: [], undone: [] });

/** What was done last comes back first. */
export function did(step: Step): void {
  steps.set({ done: [...steps.get().done, step].slice(-MOST), undone: [] });
}

export const undo = () => go("done", "undone", "Undone");
export const redo = () => go("undone", "done", "Done again");

async function go(from: keyof Steps, to: keyof Steps, word: string): Promise<void> {
  const step = steps.get()[from].at(-1);
  if (!step) {
    notify(from === "done" ? "There is nothing to undo." : "There is nothing to do again.");
    return;
  }
  const back = await take(step, from, to);
  if (back?.of && !window.location.pathname.startsWith(back.of.path))
    notify(`${word}: ${back.label}, ${back.of.name}`);
}

/** Takes back this one, or does this one again, whatever was done since. */
export async function takeBack(step: Step): Promise<void> {
  if (steps.get().undone.includes(step)) await take(step, "undone", "done");
  else await take(step, "done", "undone");
}

async function take(step: Step, from: keyof Steps, to: keyof Steps): Promise<Step | undefined> {
  // pressed twice it is taken once
  drop(step);
  const back = await step.take();
  if (back === false) put(from, step);
  else if (back) put(to, back);
  return back || undefined;
}

function put(where: keyof Steps, step: Step): void {
  steps.set({ ...steps.get(), [where]: [...steps.get()[where], step] });
}

function drop(step: Step): void {
  const { done, undone } = steps.get();
  steps.set({ done: done.filter((s) => s !== step), undone: undone.filter((s) => s !== step) });
}

/** What Undo and Redo would do now. */
export function useSteps(): { undoLabel: string | undefined; redoLabel: string | undefined } {
  const { done, undone } = steps.use();
  return { undoLabel: done.at(-1)?.label, redoLabel: undone.at(-1)?.label };
}

type Editing = { label: string; path: string; name: string; continues?: boolean | undefined };

/** Changes a document so that it can be taken back; what goes on in the same figure is one step with it. */
export function edit<T>(document: DocumentStore<T>, next: T, { continues, ...where }: Editing): void {
  const last = steps.get().done.at(-1);
  if (continues && last?.of?.document === document && last.label === where.label) {
    last.of.made.now = next;
    steps.set({ ...steps.get(), undone: [] });
  } else did(backTo(document, document.value, next, where));
  document.set(next);
}

/** Back to how it was; what was changed of it elsewhere since then stays. */
function backTo<T>(document: DocumentStore<T>, was: T, next: T, where: Omit<Editing, "continues">): Step {
  const { label, path, name } = where;
  const made = { now: next };
  return {
    label,
    of: { document, made, path, name },
    take: () => {
      const { value } = merge(made.now, was, document.value, document.keyed);
      const again = backTo(document, document.value, value, where);
      document.set(value);
      return again;
    },
  };
}
