import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useEffect, useMemo, useState } from "react";
import { ApiProblem } from "@/api/problem";
import type { Detail, Model } from "@/api/types";
import { useOffer } from "@/app/commands";
import { useKeys } from "@/app/keys";
import { rememberPick } from "@/app/picked";
import { useJob } from "@/app/useJob";
import { useLastGood } from "@/app/useLastGood";
import { StageWaiting } from "@/parts/StageWaiting";
import { FieldArea } from "@/stages/size/field/FieldArea";
import { JobPanel } from "@/stages/size/job/JobPanel";
import { Picked } from "@/stages/size/Picked";
import { detailsQuery, planQuery } from "@/stages/size/queries";
import { useChoice } from "@/stages/size/useChoice";
import { useNewest } from "@/stages/size/useNewest";

const Compare = lazy(() => import("@/stages/size/Compare").then((m) => ({ default: m.Compare })));

/** As many rows as a list can hold that is read to its end. */
const MOST_ROWS = 400;

/** The three areas of Size: the job, the field with its shortlist, the stack of the picked pack. */
export function Workbench({ model }: { model: Pick<Model, "slug" | "name"> }) {
  const store = useJob(model);
  const chosen = useChoice();
  const [all, setAll] = useState(false);
  const [job, plan] = useNewest(store.job, (asked) =>
    planQuery(model.slug, asked, chosen.aim, chosen.pick, all ? MOST_ROWS : undefined),
  );
  const good = useLastGood(plan.data);
  const pickId = chosen.pick ?? good?.best ?? undefined;
  useEffect(() => rememberPick(model.slug, pickId), [model.slug, pickId]);
  // a plan brings the pack that is picked with it
  const answered = !plan.isFetching && !plan.error;
  const asked = detailsQuery(model.slug, job, pickId ? [pickId] : []);
  const detail = useQuery({ ...asked, enabled: answered && pickId !== undefined });
  const details = useLastGood(detail.data);
  const picked = details?.[0];
  const sweep = useMemo(() => sweepOf(picked), [picked]);
  const problems = useProblems(plan.error);
  const keys = useMemo(
    () => ({
      p: () => pickId && chosen.togglePin(pickId),
    }),
    [chosen, pickId],
  );
  useKeys(keys);
  useOffer("size", useSizeCommands(chosen, pickId));
  if (!good && !plan.error)
    return (
      <StageWaiting
        heading={`Size a pack for ${model.name}`}
        words="Running every candidate through the job…"
      />
    );
  if (chosen.comparing)
    return (
      <Suspense fallback={<StageWaiting heading="Compare" words="Fetching the comparison…" />}>
        <Compare slug={model.slug} job={job} chosen={chosen} />
      </Suspense>
    );
  return (
    <main
      className="grid flex-1 grid-cols-1 lg:grid-cols-[18rem_minmax(0,1fr)]
      xl:grid-cols-[18rem_minmax(0,1fr)_20.25rem]
      2xl:grid-cols-[19rem_minmax(0,1fr)_25rem]"
    >
      <h1 className="sr-only">Size a pack for {model.name}</h1>
      <div className="order-3 border-t lg:order-1 lg:row-span-2 lg:border-r lg:border-t-0 xl:row-span-1">
        <JobPanel model={model.slug} store={store} plan={good} problems={problems} />
      </div>
      <div className="order-1 min-w-0 lg:order-2">
        <FieldArea
          query={plan}
          plan={good}
          store={store.editing}
          chosen={chosen}
          pickId={pickId}
          problems={problems}
          sweep={sweep}
          slug={model.slug}
          job={job}
          all={all}
          onAll={setAll}
        />
      </div>
      <div className="order-2 border-t bg-sheet xl:order-3 xl:border-l xl:border-t-0">
        <Picked
          job={job}
          query={detail}
          details={details}
          chosen={chosen}
          shopping={good?.shopping ?? undefined}
          row={good?.shortlist.find((x) => x.id === picked?.id)}
        />
      </div>
    </main>
  );
}

function sweepOf(detail: Detail | undefined) {
  if (!detail) return undefined;
  const { sweep_mass_g, sweep_minutes, turning_mass_g } = detail.sensitivity;
  return { mass_g: sweep_mass_g, minutes: sweep_minutes, turning_mass_g };
}

function useProblems(error: Error | null): ReadonlyMap<string, string> {
  return useMemo(() => (error instanceof ApiProblem ? error.fields : new Map<string, string>()), [error]);
}

function useSizeCommands(chosen: ReturnType<typeof useChoice>, pickId: string | undefined) {
  return useMemo(
    () => [
      ...(pickId
        ? [
            {
              id: "pin",
              name: chosen.pins.includes(pickId)
                ? "Unpin the picked pack"
                : "Pin the picked pack, to compare",
              hint: "P",
              run: () => chosen.togglePin(pickId),
            },
          ]
        : []),
      ...(chosen.pins.length > 1
        ? [{ id: "compare", name: "Compare the pinned packs", run: () => chosen.setComparing(true) }]
        : []),
    ],
    [chosen, pickId],
  );
}
