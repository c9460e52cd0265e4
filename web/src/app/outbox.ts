import { answered, client } from "@/api/client";
import { ApiProblem } from "@/api/problem";
import type { Lent, Note, RunAsk, Said } from "@/api/types";
import type { Acts, Kind } from "@/app/acts";
import { neverSaid, saidHere, wasSent } from "@/app/said";
import { keptStore } from "@/app/store";
import { wantLine } from "@/app/waiting";

const AGAIN_MS = 5000;
wantLine();

/** What the server answers to each. */
export type Answers = {
  run: unknown;
  note: Note;
  check: Said;
  look: Said;
  left: Said;
  charged: Said;
  more: unknown;
  lent: Lent;
};

/**
 * Something that the server has not yet, with a key of its own by which it is kept once however often it is
 * sent. One that was taken back after it was sent, perhaps in vain, is taken back there.
 */
export type Item<K extends Kind = Kind> = {
  [k in K]: { kind: k; key: string; at: string; words: string; body: Acts[k] };
}[K] & { refused?: string; asked?: boolean; undone?: boolean };

/** How each kind is sent. Under one key it is kept once; the answer is the same each time. */
const WAYS: { [K in Kind]: (item: Item<K>, at: string | null) => Promise<Answers[K]> } = {
  run: ({ body }) => answered(client.POST("/api/runs", { body })),
  note: ({ key, body: { tag, ...body } }, at) =>
    answered(
      client.POST("/api/keep/packs/{tag}/notes", { params: { path: { tag } }, body: { ...body, key, at } }),
    ),
  check: ({ key, body: { tag, ...body } }, at) =>
    answered(
      client.POST("/api/keep/packs/{tag}/checks", { params: { path: { tag } }, body: { ...body, key, at } }),
    ),
  look: ({ key, body: { tag, ...body } }, at) =>
    answered(
      client.POST("/api/keep/packs/{tag}/looks", { params: { path: { tag } }, body: { ...body, key, at } }),
    ),
  left: ({ key, body }, at) => answered(client.POST("/api/keep/left", { body: { ...body, key, at } })),
  more: ({ body: { run, pack: _, ...body } }) =>
    answered(client.POST("/api/runs/{key}/more", { params: { path: { key: run } }, body })),
  charged: ({ key, body }, at) => answered(client.POST("/api/keep/charged", { body: { ...body, key, at } })),
  lent: ({ key, body }) => answered(client.POST("/api/lent", { body: { ...body, key } })),
};

/** Kept in the browser until the server has them, shared by its tabs. */
const waiting = keptStore<Item[]>("cold-stack.to-send", (was) =>
  Array.isArray(was) ? (was as Item[]) : older(),
);
let timer: number | undefined;
let sending: Promise<void> | undefined;
/** Sent from here at least once: the server may have it, whether it answered or not. */
const tried = new Set<string>();

export const useOutbox = waiting.use;

/** A key of one act: sent twice, it is done once. */
export function newKey(): string {
  return Array.from(crypto.getRandomValues(new Uint32Array(4)), (n) => n.toString(16).padStart(8, "0")).join(
    "",
  );
}

/** Says something now; without a line it waits here, and nothing is answered. What is refused is thrown. */
export async function sayOrKeep<K extends Kind>(
  kind: K,
  key: string,
  words: string,
  body: Acts[K],
): Promise<Answers[K] | undefined> {
  const item = { kind, key, at: new Date().toISOString(), words, body } as Item<K>;
  tried.add(key);
  saidHere(item);
  try {
    const done = await WAYS[kind](item, null);
    wasSent(key);
    return done;
  } catch (problem) {
    if (!(problem instanceof ApiProblem && problem.status === 0)) {
      neverSaid(key);
      throw problem;
    }
    keep(item as Item);
    return undefined;
  }
}

/** Keeps something until it is sent. */
export function keep(item: Item): void {
  waiting.update((all) => [...all.filter((w) => w.key !== item.key), item]);
  if (item.undone) neverSaid(item.key);
  else saidHere(item);
}

/** An hour that was asked back is so: it is sent again with that. */
export function itIsSo(item: Item, onSent: (kind: Kind) => void): void {
  const { refused: _, asked: __, ...rest } = item;
  keep({ ...rest, body: { ...rest.body, sure: true } } as Item);
  void send(onSent);
}

/** Whether it is still here. */
export function waits(key: string): boolean {
  return waiting.get().some((w) => w.key === key);
}

export function drop(key: string): void {
  waiting.update((all) => all.filter((w) => w.key !== key));
  neverSaid(key);
}

/** Takes back what waits here under this key. */
export async function takeBackKey(key: string, onSent: (kind: Kind) => void): Promise<void> {
  const item = waiting.get().find((w) => w.key === key);
  if (item) await takeBack(item, onSent);
}

/** Takes it back wherever it is by now: here, on its way, or on the server; as soon as there is a line. */
export async function takeBack(item: Item, onSent: (kind: Kind) => void): Promise<void> {
  // what was to be added to a run goes with it
  waiting.update((all) => all.filter((w) => !(w.kind === "more" && w.body.run === item.key)));
  if (waits(item.key) && !tried.has(item.key)) {
    drop(item.key);
    return;
  }
  const { refused: _, ...rest } = item;
  keep({ ...rest, undone: true });
  await send(onSent);
}

/** Sends all that waits, one after the other; what comes meanwhile too. */
export function send(onSent: (kind: Kind) => void): Promise<void> {
  sending ??= sendAll(onSent).finally(() => {
    sending = undefined;
    if (waiting.get().some((w) => !w.refused)) timer = window.setTimeout(() => void send(onSent), AGAIN_MS);
  });
  return sending;
}

async function sendAll(onSent: (kind: Kind) => void): Promise<void> {
  window.clearTimeout(timer);
  for (;;) {
    const next = waiting.get().find((w) => !w.refused);
    if (!next) return;
    try {
      await sendOne(next);
      settle(next);
      onSent(next.kind);
    } catch (problem) {
      if (!refuses(problem)) return; // no line, or something that is mended elsewhere: later
      const { message, fields } = problem as ApiProblem;
      const refused = { refused: message, asked: fields.has("at") };
      waiting.update((all) => all.map((w) => (w.key === next.key ? { ...w, ...refused } : w)));
    }
  }
}

async function sendOne(item: Item): Promise<void> {
  tried.add(item.key);
  const say = () => (WAYS[item.kind] as (item: Item, at: string) => Promise<unknown>)(item, item.at);
  if (!item.undone) await say();
  else if (item.kind === "run") await takeRunBack(item.key);
  else if (item.kind === "more") return;
  else {
    // said under its key it is what it was, and tells its events
    const said = (await say()) as Said | Lent | { id: number };
    if ("tag" in said) {
      await answered(client.POST("/api/lent/{tag}/back", { params: { path: { tag: said.tag } } }));
      return;
    }
    const events = "events" in said ? said.events : [said.id];
    await answered(client.POST("/api/keep/take-back", { body: { events } }));
  }
}

async function takeRunBack(key: string): Promise<void> {
  try {
    await answered(client.DELETE("/api/runs/{key}", { params: { path: { key } } }));
  } catch (problem) {
    // it never got there
    if (!(problem instanceof ApiProblem && problem.status === 404)) throw problem;
  }
}

/** It is done with, but for one that was taken back while it was on its way. */
function settle(done: Item): void {
  if (!done.undone) wasSent(done.key);
  waiting.update((all) =>
    all.filter((w) => w.key !== done.key || Boolean(w.undone) !== Boolean(done.undone)),
  );
}

/** A page older than the server, or a phone that must be paired again: sent once that is mended. */
const MENDED = [401, 403];

function refuses(problem: unknown): boolean {
  if (!(problem instanceof ApiProblem)) return false;
  return problem.status >= 400 && problem.status < 500 && !MENDED.includes(problem.status);
}

/** What an older page kept: runs only, in another shape. */
function older(): Item[] {
  try {
    const was = JSON.parse(localStorage.getItem("cold-stack.runs-to-send") ?? "[]") as {
      run: RunAsk;
      refused?: string;
      undone?: boolean;
    }[];
    return was.map(({ run, ...more }) => runItem(run, more));
  } catch {
    return [];
  }
}

/** A run as something that waits. */
export function runItem(run: RunAsk, more: { refused?: string; undone?: boolean } = {}): Item<"run"> {
  return {
    kind: "run",
    key: run.key,
    at: run.at,
    words: `${run.pack}, ${run.minutes} min`,
    body: run,
    ...more,
  };
}
