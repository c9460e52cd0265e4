import { entries, set } from "idb-keyval";
import type { KitOfPack } from "@/api/types";
import { store } from "@/app/store";

const PREFIX = "kit:";
type Kits = ReadonlyMap<string, KitOfPack>;

/**
 * The kits that this device took along. They are large, so they do not lie beside what waits to be sent:
 * that must always have room.
 */
const kits = store<Kits>(new Map());
const named = (model: string, pack: string) => `${PREFIX}${model}/${pack}`;

/** What an earlier visit took along; a browser that keeps nothing has those of this page. */
async function load(): Promise<void> {
  try {
    const kept = (await entries<string, KitOfPack>()).filter(([name]) => name.startsWith(PREFIX));
    kits.set(new Map([...kept, ...kits.get()]));
  } catch {
    // forbidden, or there is none
  }
}
void load();

export const useKits = kits.use;

export function keptKit(all: Kits | undefined, model: string, pack: string): KitOfPack | undefined {
  return (all ?? kits.get()).get(named(model, pack));
}

export function keepKit(model: string, kit: KitOfPack): void {
  const name = named(model, kit.tag);
  kits.set(new Map(kits.get()).set(name, kit));
  void set(name, kit).catch(() => undefined); // full, or forbidden
}
