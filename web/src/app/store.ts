import { useSyncExternalStore } from "react";

/** A value outside React that every screen sees at once. */
export type Store<T> = { get: () => T; set: (next: T) => void; use: () => T };

export function store<T>(first: T): Store<T> {
  const listeners = new Set<() => void>();
  let value = first;
  const get = () => value;
  const subscribe = (listener: () => void) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  };
  return {
    get,
    set: (next) => {
      value = next;
      for (const listener of listeners) listener();
    },
    use: () => useSyncExternalStore(subscribe, get),
  };
}

/** Told of every writing whether what was written was read back. */
export const keeping = { heard: (_kept: boolean) => {} };

/** One that is kept. */
export type KeptStore<T> = Store<T> & {
  /** Changes what is kept by now: another tab may have changed it too. */
  update: (change: (now: T) => T) => void;
};

/**
 * The same, kept in this browser, or only for this window. What was kept is read by `read`, which is given
 * undefined where there is nothing; a browser that keeps nothing still shows it until the page is closed.
 */
export function keptStore<T>(
  key: string,
  read: (kept: unknown) => T,
  where: () => Storage = () => localStorage,
): KeptStore<T> {
  const made = store(read(keptAt(key, where)));
  /** What is kept is older than what is known here. */
  let unkept = false;
  const set = (next: T) => {
    unkept = true;
    try {
      if (next === undefined) where().removeItem(key);
      else where().setItem(key, JSON.stringify(next));
      // nothing is taken as kept that is not read back
      unkept = next !== undefined && where().getItem(key) !== JSON.stringify(next);
    } catch {
      // full, or forbidden
    }
    keeping.heard(!unkept);
    made.set(next);
  };
  if (typeof window !== "undefined")
    window.addEventListener("storage", (e) => {
      if (e.key === key) made.set(read(keptAt(key, where)));
    });
  return {
    ...made,
    set,
    update: (change) => {
      const kept = keptAt(key, where);
      // what the browser does not keep is known here alone
      set(change(kept === undefined || unkept ? made.get() : read(kept)));
    },
  };
}

function keptAt(key: string, where: () => Storage): unknown {
  try {
    return JSON.parse(where().getItem(key) ?? "null") ?? undefined;
  } catch {
    return undefined;
  }
}
