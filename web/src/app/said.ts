import type { Acts, Kind } from "@/app/acts";
import { keptStore } from "@/app/store";

/**
 * Something that was said of packs on this device: when, by its own clock, and after how many others the
 * server had it; null while it has not.
 */
export type SaidHere<K extends Kind = Kind> = {
  [k in K]: { kind: k; key: string; at: number; body: Acts[k]; sent: number | null };
}[K];

/** All of it of the last days; `count` how much the server was told, `other` after how many of them it was
 *  told something else than these. */
type Kept = { count: number; other: number; acts: SaidHere[] };

const REMEMBERED_MS = 3 * 24 * 3_600_000;
const kept = keptStore<Kept>("cold-stack.said", (was) => {
  const known = was as Kept | undefined;
  return Array.isArray(known?.acts) ? known : { count: 0, other: 0, acts: [] };
});

export const useSaid = kept.use;

/** How much the server was told from here by now: what it answers from now on knows of that. */
export const toldNow = () => kept.get().count;

/** It was said; the server may not have it yet. */
export function saidHere(item: { kind: Kind; key: string; at: string; body: Acts[Kind] }): void {
  const { kind, key, body } = item;
  const act = { kind, key, at: Date.parse(item.at), body, sent: null } as SaidHere;
  kept.update((now) => ({
    ...now,
    acts: [...now.acts.filter((a) => a.key !== key && Date.now() - a.at < REMEMBERED_MS), act],
  }));
}

/** The server has it. */
export function wasSent(key: string): void {
  kept.update((now) => {
    const count = now.count + 1;
    return { ...now, count, acts: now.acts.map((a) => (a.key === key ? { ...a, sent: count } : a)) };
  });
}

/** It was taken back, or refused. */
export function neverSaid(key: string): void {
  kept.update((now) => ({ ...now, acts: now.acts.filter((a) => a.key !== key) }));
}

/** Something else was changed, from here: whatever was answered before does not know it. */
export function toldOther(): void {
  kept.update((now) => ({ ...now, count: now.count + 1, other: now.count + 1 }));
}

/** What was said of a pack that an answer which was asked for after `told` others does not know, in order. */
export function unknownTo(told: number, tag: string, all = kept.get()): SaidHere[] {
  return all.acts
    .filter((a) => (a.sent === null || a.sent > told) && tagsOf(a).some((t) => isOf(t, tag)))
    .sort((a, b) => a.at - b.at);
}

/** Whether something else was changed since then. */
export function otherSince(told: number, all = kept.get()): boolean {
  return all.other > told;
}

function tagsOf(act: SaidHere): string[] {
  if (act.kind === "lent") return [];
  if (act.kind === "run" || act.kind === "more") return [act.body.pack];
  return "packs" in act.body ? act.body.packs : [act.body.tag];
}

/** A pack by itself, or as one of two: "02+03". */
function isOf(said: string, tag: string): boolean {
  return said === tag || said.split("+").includes(tag) || tag.split("+").includes(said);
}
