import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useNavigate, useSearch } from "@tanstack/react-router";
import { useCallback, useEffect, useMemo } from "react";
import type { BenchLayout, LaidAsk } from "@/api/types";
import { DocumentStore, storeOf } from "@/app/documentStore";
import type { Saving } from "@/app/SaveLine";
import { edit } from "@/app/undo";
import { useDocument } from "@/app/useDocument";
import { ownedId, tagOf } from "@/format/packId";
import { benchQuery, fetchBench, type KeptBench, keepBench } from "@/stages/charge/queries";

export type BenchStore = {
  bench: BenchLayout;
  /** A change under a name, for undo; changes of one field while it is typed in count as one. */
  change: (label: string, next: Partial<BenchLayout>, options?: { continues?: boolean }) => void;
  changePack: (pack: string, next: Partial<LaidAsk>) => void;
  /** Take what the server has now: a charge that ended noted its volts there. */
  refresh: () => Promise<void>;
  saving: Saving;
};

/**
 * The layout as edited here, kept on the server shortly after each change; what is typed stays whatever the
 * server says.
 */
export function useBench(kept: KeptBench): BenchStore {
  const queries = useQueryClient();
  const document = useMemo(() => storeOf("bench", () => benchStore(queries, kept)), [queries, kept]);
  const bench = useDocument(document, { value: kept.bench, version: kept.version });
  const now = useCallback(() => document.value, [document]);

  const change = useCallback<BenchStore["change"]>(
    (label, next, options) => {
      const { continues } = options ?? {};
      edit(document, { ...now(), ...next }, { label, path: "/charge", name: "in Charge", continues });
    },
    [now, document],
  );

  const changePack = useCallback<BenchStore["changePack"]>(
    (pack, next) => {
      const laid = now().laid.map((x) => (x.pack === pack ? { ...x, ...next } : x));
      const what = "cells" in next ? "cells" : "temperature_c" in next ? "temperature" : "reading";
      change(`${what} of ${tagOf(pack)}`, { laid }, { continues: true });
    },
    [now, change],
  );

  const refresh = useCallback(async () => {
    await document.flush();
    await queries.fetchQuery({ ...benchQuery, staleTime: 0 });
  }, [queries, document]);

  return useMemo(
    () => ({ bench, change, changePack, refresh, saving: document }),
    [bench, change, changePack, refresh, document],
  );
}

/** The bench on the server; lines are merged by their pack, chargers by theirs. */
function benchStore(queries: QueryClient, kept: KeptBench): DocumentStore<BenchLayout> {
  const tell = (part: Partial<KeptBench>) =>
    queries.setQueryData(benchQuery.queryKey, (old: KeptBench | undefined) =>
      old ? { ...old, ...part } : old,
    );
  const known = (x: KeptBench) => ({ value: x.bench, version: x.version });
  return new DocumentStore<BenchLayout>(known(kept), {
    get: async () => known(await fetchBench()),
    put: async (bench, version) => {
      const now = await keepBench(bench, version);
      tell({ version: now.version });
      return { value: bench, version: now.version };
    },
    show: (bench) => tell({ bench }),
    keyed: { laid: "pack", feds: "charger" },
  });
}

/** A pack that is not laid out yet. */
export const newLine = (pack: string): LaidAsk => ({
  pack,
  cells: "",
  temperature_c: null,
  read_at: null,
  source: "typed",
});

/** Who comes with a pack in the address finds it laid out. */
export function useLaidByAddress(store: BenchStore): void {
  const { lay } = useSearch({ from: "/charge/$model" });
  const navigate = useNavigate({ from: "/charge/$model" });
  useEffect(() => {
    if (!lay) return;
    const pack = ownedId(lay);
    const { laid } = store.bench;
    if (!laid.some((x) => x.pack === pack))
      store.change(`Laid out ${lay}`, { laid: [...laid, newLine(pack)] });
    void navigate({ search: {}, replace: true, resetScroll: false });
  }, [lay, navigate, store]);
}
