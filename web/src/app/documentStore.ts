import { ApiProblem, isStale, wordsOf } from "@/api/problem";
import { type Clash, merge } from "@/app/merge";

/** A document of the server, and which of its versions it is. */
export type Kept<T> = { value: T; version: string };

export type SaveState =
  | { at: "saved" }
  | { at: "saving" }
  | { at: "failed"; why: string; problem: unknown }
  /** It was changed elsewhere too, in the same figures: somebody must say which counts. */
  | { at: "asked"; clashes: Clash[] };

type Way<T> = {
  get: () => Promise<Kept<T>>;
  put: (value: T, version: string) => Promise<Kept<T>>;
  /** Shown to whoever reads the document. */
  show: (value: T) => void;
  keyed?: Record<string, string>;
};

export const SAVE_AFTER_MS = 500;
export const RETRY_AFTER_MS = 3000;

/**
 * One document that is edited here and kept on the server. One PUT is on its way at a time, and the newest
 * waits for it; what the server does not get is sent again. A version that is not ours any more is merged
 * with what was made of it elsewhere. It knows no screen, and outlives them.
 */
export class DocumentStore<T> {
  private state: SaveState = { at: "saved" };
  private now: T;
  private waiting: T | undefined;
  /** As the other side has it where both changed a figure, and as I have it elsewhere. */
  private theirs: T | undefined;
  private sending: Promise<void> | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly heard = new Set<() => void>();

  constructor(
    private kept: Kept<T>,
    private readonly way: Way<T>,
  ) {
    this.now = kept.value;
  }

  /** The document as it stands here. */
  get value(): T {
    return this.now;
  }

  /** Which of its lists are merged thing by thing, and by what. */
  get keyed(): Record<string, string> {
    return this.way.keyed ?? {};
  }

  get save(): SaveState {
    return this.state;
  }

  readonly listen = (hear: () => void): (() => void) => {
    this.heard.add(hear);
    return () => this.heard.delete(hear);
  };

  /** What the server was read to have; left alone while something of ours is on its way. */
  seen(kept: Kept<T>): void {
    if (this.waiting !== undefined || this.sending || this.state.at === "failed") return;
    this.kept = kept;
    // the same figures read again are the same document
    if (JSON.stringify(this.now) !== JSON.stringify(kept.value)) {
      this.now = kept.value;
      this.tell();
    }
  }

  /** The document as it is now, to be kept soon. */
  set(value: T): void {
    this.stand(value);
    if (this.state.at !== "asked") this.say({ at: "saving" });
    this.later(SAVE_AFTER_MS);
  }

  /** Keeps what waits, now; resolves when all is on the server, or could not be. */
  async flush(): Promise<void> {
    clearTimeout(this.timer);
    if (this.state.at === "asked") return;
    if (this.sending) await this.sending;
    else if (this.waiting !== undefined) {
      this.sending = this.send();
      await this.sending;
    }
    if (this.waiting !== undefined && this.state.at === "saving") await this.flush();
  }

  /** After a clash: which side counts where both changed the same figure. */
  async choose(whose: "mine" | "theirs"): Promise<void> {
    if (this.state.at !== "asked") return;
    if (whose === "theirs" && this.theirs !== undefined) {
      this.stand(this.theirs);
    }
    this.say({ at: "saving" });
    await this.flush();
  }

  private async send(): Promise<void> {
    const value = this.waiting as T;
    this.waiting = undefined;
    try {
      this.kept = { value, version: (await this.way.put(value, this.kept.version)).version };
      if (this.waiting === undefined) this.say({ at: "saved" });
    } catch (problem) {
      await this.failed(value, problem);
    } finally {
      this.sending = undefined;
    }
    if (this.waiting !== undefined && this.state.at === "saving") this.later(0);
  }

  private async failed(value: T, problem: unknown): Promise<void> {
    const status = problem instanceof ApiProblem ? problem.status : undefined;
    if (isStale(problem)) {
      await this.changedElsewhere(this.waiting ?? value);
      return;
    }
    if (this.waiting !== undefined) return; // a newer one is on its way
    this.say({ at: "failed", why: wordsOf(problem, "Not saved."), problem });
    if (status === 0) {
      // the line is down, the document is sound: it is sent again until it is kept
      this.waiting = value;
      this.later(RETRY_AFTER_MS);
    }
  }

  private async changedElsewhere(mine: T): Promise<void> {
    let now: Kept<T>;
    try {
      now = await this.way.get();
    } catch {
      this.waiting = mine;
      this.later(RETRY_AFTER_MS);
      return;
    }
    const { value, clashes } = merge(this.kept.value, mine, now.value, this.way.keyed);
    this.theirs = merge(this.kept.value, now.value, mine, this.way.keyed).value;
    this.kept = now;
    this.stand(value);
    if (clashes.length > 0) {
      this.say({ at: "asked", clashes });
    } else this.say({ at: "saving" });
  }

  private later(ms: number): void {
    clearTimeout(this.timer);
    if (this.state.at === "asked") return;
    this.timer = setTimeout(() => {
      if (this.state.at === "failed") this.say({ at: "saving" });
      void this.flush();
    }, ms);
  }

  /** It is this from now on, and waits to be kept. */
  private stand(value: T): void {
    this.now = value;
    this.waiting = value;
    this.way.show(value);
    this.tell();
  }

  private say(state: SaveState): void {
    this.state = state;
    this.tell();
  }

  private tell(): void {
    for (const hear of this.heard) hear();
  }
}

const stores = new Map<string, DocumentStore<unknown>>();

/** The one store of a document, made when it is first asked for. */
export function storeOf<T>(name: string, make: () => DocumentStore<T>): DocumentStore<T> {
  let store = stores.get(name);
  if (!store) {
    store = make() as DocumentStore<unknown>;
    stores.set(name, store);
  }
  return store as DocumentStore<T>;
}

/** What the server was read to have, for the store of that document, if there is one. */
export function heard<T>(name: string, kept: Kept<T>): void {
  (stores.get(name) as DocumentStore<T> | undefined)?.seen(kept);
}

/** Whether something of this document is not on the server yet. */
export function unsaved(name: string): boolean {
  return (stores.get(name)?.save.at ?? "saved") !== "saved";
}

/** Sends what waits in every store: the page may be gone in a moment. */
export function flushAll(): void {
  for (const store of stores.values()) void store.flush();
}

if (typeof window !== "undefined") {
  window.addEventListener("pagehide", flushAll);
  document.addEventListener("visibilitychange", () => {
    if (document.visibilityState === "hidden") flushAll();
  });
}
