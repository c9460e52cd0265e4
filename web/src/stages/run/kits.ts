import { entries, setMany } from "idb-keyval";
import { answered, client } from "@/api/client";
import type { KitMarks } from "@/api/types";
import { toldNow } from "@/app/said";
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
      ([name, of]) => name.startsWith(PREFIX) && "since" in of.kit && "fingerprint" in of,
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

function keepKits(model: string, some: readonly KeptKit[]): void {
  if (some.length === 0) return;
  const pairs = some.map((kit): [string, KeptKit] => [named(model, kit.tag), kit]);
  kits.set(new Map([...kits.get(), ...pairs]));
  void setMany(pairs).catch(() => undefined); // full, or forbidden
}

/** When something was asked, by this device's clock, and after how much was told. */
export type Asked<T> = T & { got: number; told: number };
export const askedNow = () => ({ got: Date.now(), told: toldNow() });

/** Which kits of a model's packs hold now. */
export async function kitMarks(model: string, signal: AbortSignal | null = null): Promise<Asked<KitMarks>> {
  const asked = askedNow();
  return {
    ...(await answered(client.GET("/api/run/kits", { params: { query: { model } }, signal }))),
    ...asked,
  };
}

/** So many come at once: the server makes them together, and still has time for others. */
export const KITS_AT_ONCE = 8;

/** The kits of some of a model's packs, no more than come at once: one that still holds is as new as its
 *  mark, the others are fetched. Gone ones are left out. */
export async function takeKits(
  model: string,
  marks: Asked<KitMarks>,
  packs: KitMarks["kits"],
  signal: AbortSignal | null = null,
): Promise<KeptKit[]> {
  const { made, job, got, told } = marks;
  const held = packs.flatMap(({ tag, fingerprint }) => {
    const had = keptKit(undefined, model, tag);
    return had?.fingerprint === fingerprint ? [{ ...had, made, job, got, told }] : [];
  });
  const pack = packs.map((k) => k.tag).filter((tag) => held.every((k) => k.tag !== tag));
  const asked = askedNow();
  const query = { model, pack };
  const came =
    pack.length > 0 ? (await answered(client.GET("/api/run/kit", { params: { query }, signal }))).kits : [];
  const all = [...held, ...came.map((kit) => ({ ...kit, ...asked }))];
  keepKits(model, all);
  return all;
}
