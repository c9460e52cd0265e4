import { useEffect } from "react";
import { answered, client } from "@/api/client";
import type { KitOfPack, Model, RunPack } from "@/api/types";
import { unsaved } from "@/app/documentStore";
import { keptStore } from "@/app/store";
import { type ByKit, byKit } from "@/stages/run/kit";
import { landedAt } from "@/stages/run/queue";

const FRESH_MS = 10 * 60_000;
const FIRST_AFTER_MS = 1500;

/** The kits that this device took along, by model and pack. */
const kits = keptStore<Record<string, KitOfPack>>("cold-stack.kits", (was) =>
  was && typeof was === "object" ? (was as Record<string, KitOfPack>) : {},
);

const named = (model: string, pack: string) => `${model}/${pack}`;

type AskKit = ((cells: string, temperature: number | null) => ByKit) & { made: string };

/** Takes the kits of a model's packs along while there is a line; asks the one of this pack. */
export function useKit(
  model: string,
  pack: string | undefined,
  packs: RunPack[] | undefined,
  job: Model | undefined,
): AskKit | undefined {
  const all = kits.use();
  useEffect(() => {
    if (!packs) return;
    const gone = new AbortController();
    // what one came for goes first
    const timer = window.setTimeout(
      () => void fetchAll(model, packs, gone.signal).catch(() => undefined), // the ones of before stay
      FIRST_AFTER_MS,
    );
    return () => {
      window.clearTimeout(timer);
      gone.abort();
    };
  }, [model, packs]);
  const kit = pack === undefined ? undefined : all[named(model, pack)];
  if (!kit || !pack) return undefined;
  const ask = (cells: string, temperature: number | null) =>
    byKit(kit, cells, temperature, {
      now: Date.now(),
      ran: landedAt(pack).some((at) => at >= Date.parse(kit.made)),
      changed: unsaved(`job:${model}`) || (job !== undefined && job.version !== kit.job),
    });
  return Object.assign(ask, { made: kit.made });
}

async function fetchAll(model: string, packs: RunPack[], signal: AbortSignal): Promise<void> {
  for (const { tag, fits } of packs) {
    if (!fits) continue;
    const made = Date.parse(kits.get()[named(model, tag)]?.made ?? "");
    const stale = !(Date.now() - made < FRESH_MS) || landedAt(tag).some((at) => at >= made);
    if (!stale) continue;
    const query = { model, pack: tag };
    const kit = await answered(client.GET("/api/run/kit", { params: { query }, signal }));
    kits.update((now) => ({ ...now, [named(model, tag)]: kit }));
  }
}
