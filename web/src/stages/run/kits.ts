import { entries, set } from "idb-keyval";
import { store } from "@/app/store";
import type { KeptKit } from "@/stages/run/kit";

const PREFIX = "kit:";
type Kits = ReadonlyMap<string, KeptKit>;

/**
 * The kits that this device took along. They are large, so they do not lie beside what waits to be sent:
 * that must always have room.
 */
const kits = store<Kits>(new Map());
const named = (model: string, pack: string) => `${PREFIX}${model}/${pack}`;

/** What an earlier visit took along; a browser that keeps nothing has those of this page. */
async function load(): Promise<void> {
  try {
    const kept = (await entries<string, KeptKit>()).filter(
      // one of an older program knows nothing of what is said since
      ([name, of]) => name.startsWith(PREFIX) && "since" in of.kit && "told" in of,
    );
    kits.set(new Map([...kept, ...kits.get()]));
  } catch {
    // forbidden, or there is none
  }
}
void load();

export const useKits = kits.use;

export function keptKit(all: Kits | undefined, model: string, pack: string): KeptKit | undefined {
  return (all ?? kits.get()).get(named(model, pack));
}

export function keepKit(model: string, kit: KeptKit): void {
  const name = named(model, kit.tag);
  kits.set(new Map(kits.get()).set(name, kit));
  void set(name, kit).catch(() => undefined); // full, or forbidden
}
