import { queryOptions, useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { answered, client } from "@/api/client";
import type { KitMarks, Model } from "@/api/types";
import { unsaved } from "@/app/documentStore";
import { jobName } from "@/app/queries";
import { otherSince, toldNow, unknownTo, useSaid } from "@/app/said";
import { type ByKit, byKit } from "@/stages/run/kit";
import { keepKit, keptKit, useKits } from "@/stages/run/kits";

const AGAIN_MS = 5 * 60_000;
/** So many packs are taken along by themselves, and the one that is picked; all by a press. */
const READIEST = 8;

/** Which kits hold now. It is asked with all else that tells how packs are. */
const marksQuery = (model: string) =>
  queryOptions({
    queryKey: ["shelf", "kits", model],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: async ({ signal }): Promise<Asked<KitMarks>> => {
      const asked = askedNow();
      return {
        ...(await answered(client.GET("/api/run/kits", { params: { query: { model } }, signal }))),
        ...asked,
      };
    },
    staleTime: 0,
    refetchInterval: AGAIN_MS,
    retry: false,
  });

/** When something was asked, by this device's clock, and after how much was told. */
type Asked<T> = T & { got: number; told: number };
export const askedNow = () => ({ got: Date.now(), told: toldNow() });

type AskKit = ((cells: string, temperature: number | null) => ByKit) & { made: string };

/** Takes the kits of a model's packs along while there is a line; asks the one of this pack. */
export function useKit(model: string, pack: string | undefined, job: Model | undefined): AskKit | undefined {
  const all = useKits();
  const said = useSaid();
  const { data: marks } = useQuery(marksQuery(model));
  useEffect(() => {
    if (!marks) return;
    const gone = new AbortController();
    // without a line those of before stay
    void takeAlong(model, marks, pack, gone.signal).catch(() => undefined);
    return () => gone.abort();
  }, [model, marks, pack]);
  const kit = pack === undefined ? undefined : keptKit(all, model, pack);
  if (!kit || !pack) return undefined;
  const ask = (cells: string, temperature: number | null) =>
    byKit(kit, cells, temperature, {
      now: Date.now(),
      said: unknownTo(kit.told, pack, said),
      other: otherSince(kit.told, said),
      changed: unsaved(jobName(model)) || (job !== undefined && job.version !== kit.job),
    });
  return Object.assign(ask, { made: kit.made });
}

/** One that still holds is as new as its mark; another is fetched, one after the other. */
async function takeAlong(
  model: string,
  marks: Asked<KitMarks>,
  pack: string | undefined,
  signal: AbortSignal,
): Promise<void> {
  for (const { tag, fingerprint } of marks.kits.filter((k, i) => i < READIEST || k.tag === pack)) {
    const had = keptKit(undefined, model, tag);
    if (had?.kit.fingerprint === fingerprint) {
      keepKit(model, { ...had, made: marks.made, job: marks.job, got: marks.got, told: marks.told });
      continue;
    }
    const query = { model, pack: tag };
    const asked = askedNow();
    const kit = await answered(client.GET("/api/run/kit", { params: { query }, signal }));
    keepKit(model, { ...kit, ...asked });
  }
}
