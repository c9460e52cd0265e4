import { keptStore } from "@/app/store";

export type Preferences = {
  mass: "g" | "oz";
  length: "mm" | "in";
  temperature: "C" | "F";
  theme: "system" | "day" | "night";
};

export const STANDARD: Preferences = { mass: "g", length: "mm", temperature: "C", theme: "system" };

const kept = keptStore<Preferences>("cold-stack.preferences", (was) => ({
  ...STANDARD,
  ...(was as Partial<Preferences> | undefined),
}));

export const preferences = kept.get;
export const usePreferences = kept.use;

export function setPreference<K extends keyof Preferences>(key: K, value: Preferences[K]): void {
  kept.set({ ...kept.get(), [key]: value });
}
