import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useRef } from "react";
import { ApiProblem } from "@/api/problem";
import type { BenchLayout, BenchPlan } from "@/api/types";
import { useOffer } from "@/app/commands";
import { useLastGood } from "@/app/useLastGood";
import { StageWaiting } from "@/parts/StageWaiting";
import { BatchesPart } from "@/stages/charge/BatchesPart";
import { BenchRules } from "@/stages/charge/BenchRules";
import { LogPart } from "@/stages/charge/LogPart";
import { PacksPart } from "@/stages/charge/PacksPart";
import { PortsPart } from "@/stages/charge/PortsPart";
import { charges, chargesQuery, type KeptBench, planQuery } from "@/stages/charge/queries";
import { type BenchStore, useBench, useLaidByAddress } from "@/stages/charge/useBench";
import { useNow, useSettled } from "@/stages/charge/useNow";
import { WatchPart } from "@/stages/charge/WatchPart";

type Props = { kept: KeptBench; model: string };

/** Packs, batches, ports over time from left to right; what charges now is watched above them. */
export function ChargeBench({ kept, model }: Props) {
  const store = useBench(kept);
  const queries = useQueryClient();
  const now = useNow();
  const asked = useMemo(() => ({ ...store.bench, at: now }), [store.bench, now]);
  const settled = useSettled(asked, 200);
  const query = useQuery(planQuery(settled));
  const plan = useLastGood(query.data);
  const problems = query.error instanceof ApiProblem ? query.error.fields : new Map<string, string>();
  const { data: lines = [], isPending: asking } = useQuery(chargesQuery);
  const running = lines.filter(charges).length;
  const before = useRef(running);
  useEffect(() => {
    if (before.current !== running) {
      void queries.invalidateQueries({ queryKey: ["bench-plan"] });
      if (running < before.current) void store.refresh();
    }
    before.current = running;
  }, [running, queries, store]);
  const commands = useMemo(
    () => [
      {
        id: "clear-bench",
        name: "Clear the bench",
        hint: "Charge",
        run: () => store.change("Cleared the bench", { laid: [], groups: [] }),
      },
      { id: "print-bench", name: "Print the charging plan", hint: "Ctrl P", run: () => window.print() },
    ],
    [store],
  );
  useOffer("charge", commands);
  useLaidByAddress(store);
  if ((!plan && !query.error) || asking)
    return <StageWaiting heading="Charge" words="Working out the evening…" />;
  return (
    <main className="flex-1" aria-busy={query.isFetching}>
      <h1 className="sr-only">Charge</h1>
      <WatchPart />
      <div className="border-b px-4 py-4 md:px-6">
        <p className="text-lead font-semibold leading-6" aria-live="polite">
          {plan?.headline ?? "There is no plan yet."}
        </p>
        {query.error && problems.size === 0 && <p className="mt-1 text-alert">{query.error.message}</p>}
        <BenchRules store={store} problems={problems} />
      </div>
      {plan && <Parts plan={plan} store={store} asked={settled} model={model} problems={problems} />}
      <LogPart />
    </main>
  );
}

type PartsProps = {
  plan: BenchPlan;
  store: BenchStore;
  asked: BenchLayout;
  model: string;
  problems: ReadonlyMap<string, string>;
};

function Parts({ plan, store, asked, model, problems }: PartsProps) {
  return (
    <div
      className="grid grid-cols-1
        lg:grid-cols-[minmax(20.625rem,5fr)_minmax(16.875rem,4fr)_minmax(0,6fr)]"
    >
      <PacksPart plan={plan} store={store} asked={asked} model={model} problems={problems} />
      <BatchesPart plan={plan} store={store} asked={asked} />
      <PortsPart plan={plan} store={store} asked={asked} />
    </div>
  );
}
