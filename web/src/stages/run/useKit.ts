import { queryOptions, useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import type { KitMarks, Model } from "@/api/types";
import { unsaved } from "@/app/documentStore";
import { jobName } from "@/app/queries";
import { otherSince, unknownTo, useSaid } from "@/app/said";
import { type ByKit, byKit } from "@/stages/run/kit";
import { type Asked, keptKit, kitMarks, takeKits, useKits } from "@/stages/run/kits";

const AGAIN_MS = 5 * 60_000;
/** So many packs are taken along by themselves, and the one that is picked; all by a press. */
const READIEST = 8;

/** Which kits hold now. It is asked with all else that tells how packs are. */
const marksQuery = (model: string) =>
  queryOptions({
    queryKey: ["shelf", "kits", model],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: ({ signal }) => kitMarks(model, signal),
    staleTime: 0,
    refetchInterval: AGAIN_MS,
    retry: false,
  });

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

/** The one that is picked comes first. */
async function takeAlong(
  model: string,
  marks: Asked<KitMarks>,
  pack: string | undefined,
  signal: AbortSignal,
): Promise<void> {
  const picked = marks.kits.filter((k) => k.tag === pack);
  const others = marks.kits.slice(0, READIEST).filter((k) => k.tag !== pack);
  await takeKits(model, marks, picked, signal);
  await takeKits(model, marks, others, signal);
}
