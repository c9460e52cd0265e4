import { keptStore } from "@/app/store";

export const CURRENCIES = ["€", "$", "£", "kr", "zł", "Fr."] as const;

export type Preferences = {
  mass: "g" | "oz";
  length: "mm" | "in";
  temperature: "C" | "F";
  time: "24" | "12";
  /** The sign of all prices; they are of one currency, and never converted. */
  currency: (typeof CURRENCIES)[number];
  theme: "system" | "day" | "night";
};

export const STANDARD: Preferences = {
  mass: "g",
  length: "mm",
  temperature: "C",
  time: "24",
  currency: "€",
  theme: "system",
};

const kept = keptStore<Preferences>("cold-stack.preferences", (was) => ({
  ...STANDARD,
  ...(was as Partial<Preferences> | undefined),
}));

export const preferences = kept.get;
export const usePreferences = kept.use;

export function setPreference<K extends keyof Preferences>(key: K, value: Preferences[K]): void {
  kept.set({ ...kept.get(), [key]: value });
}
