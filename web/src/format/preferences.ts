import { useSyncExternalStore } from "react";

export type Preferences = {
  mass: "g" | "oz";
  length: "mm" | "in";
  temperature: "C" | "F";
  theme: "system" | "day" | "night";
};

const KEY = "cold-stack.preferences";
const STANDARD: Preferences = { mass: "g", length: "mm", temperature: "C", theme: "system" };
const listeners = new Set<() => void>();

function read(): Preferences {
  try {
    return { ...STANDARD, ...(JSON.parse(localStorage.getItem(KEY) ?? "{}") as Partial<Preferences>) };
  } catch {
    return STANDARD;
  }
}

let current = read();

export function preferences(): Preferences {
  return current;
}

export function setPreference<K extends keyof Preferences>(key: K, value: Preferences[K]): void {
  current = { ...current, [key]: value };
  try {
    localStorage.setItem(KEY, JSON.stringify(current));
  } catch {
    // a browser that keeps nothing still shows what was chosen until it is closed
  }
  for (const listener of listeners) listener();
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export function usePreferences(): Preferences {
  return useSyncExternalStore(subscribe, preferences);
}
