import { queryOptions, useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { answered, client } from "@/api/client";
import type { KitMarks, Model } from "@/api/types";
import { unsaved } from "@/app/documentStore";
import { jobName } from "@/app/queries";
import { type ByKit, byKit } from "@/stages/run/kit";
import { keepKit, keptKit, useKits } from "@/stages/run/kits";
import { landedAt } from "@/stages/run/queue";

const AGAIN_MS = 5 * 60_000;

/** Which kits hold now. It is asked with all else that tells how packs are. */
const marksQuery = (model: string) =>
  queryOptions({
    queryKey: ["shelf", "kits", model],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: ({ signal }): Promise<KitMarks> =>
      answered(client.GET("/api/run/kits", { params: { query: { model } }, signal })),
    staleTime: 0,
    refetchInterval: AGAIN_MS,
    retry: false,
  });

type AskKit = ((cells: string, temperature: number | null) => ByKit) & { made: string };

/** Takes the kits of a model's packs along while there is a line; asks the one of this pack. */
export function useKit(model: string, pack: string | undefined, job: Model | undefined): AskKit | undefined {
  const all = useKits();
  const { data: marks } = useQuery(marksQuery(model));
  useEffect(() => {
    if (!marks) return;
    const gone = new AbortController();
    // without a line those of before stay
    void takeAlong(model, marks, gone.signal).catch(() => undefined);
    return () => gone.abort();
  }, [model, marks]);
  const kit = pack === undefined ? undefined : keptKit(all, model, pack);
  if (!kit || !pack) return undefined;
  const ask = (cells: string, temperature: number | null) =>
    byKit(kit, cells, temperature, {
      now: Date.now(),
      ran: landedAt(pack).some((at) => at >= Date.parse(kit.made)),
      changed: unsaved(jobName(model)) || (job !== undefined && job.version !== kit.job),
    });
  return Object.assign(ask, { made: kit.made });
}

/** One that still holds is as new as its mark; another is fetched, one after the other. */
async function takeAlong(model: string, marks: KitMarks, signal: AbortSignal): Promise<void> {
  for (const { tag, fingerprint } of marks.kits) {
    const had = keptKit(undefined, model, tag);
    if (had?.kit.fingerprint === fingerprint) {
      keepKit(model, { ...had, made: marks.made, job: marks.job });
      continue;
    }
    const query = { model, pack: tag };
    keepKit(model, await answered(client.GET("/api/run/kit", { params: { query }, signal })));
  }
}
