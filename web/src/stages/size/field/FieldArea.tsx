import type { UseQueryResult } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import type { Job, Plan } from "@/api/types";
import type { JobEditing } from "@/app/useJob";
import { Figure } from "@/parts/Figure";
import { Folded } from "@/parts/Folded";
import { Waiting } from "@/parts/Waiting";
import { FieldPlot, type Sweep } from "@/stages/size/field/FieldPlot";
import { Legend } from "@/stages/size/field/Legend";
import { Shortlist } from "@/stages/size/field/Shortlist";
import type { Chosen } from "@/stages/size/useChoice";

const FieldTable = lazy(() => import("@/stages/size/field/FieldTable"));

type Props = {
  query: UseQueryResult<Plan>;
  /** The last plan that worked. */
  plan: Plan | undefined;
  store: JobEditing;
  chosen: Chosen;
  pickId: string | undefined;
  problems: ReadonlyMap<string, string>;
  sweep: Sweep | undefined;
  slug: string;
  /** The job that the plan belongs to; the store's runs ahead of it while a line is dragged. */
  job: Job;
  all: boolean;
  onAll: (all: boolean) => void;
};

/** The centre of Size: what the plan says, the field of candidates, the shortlist. */
export function FieldArea({
  query,
  plan: data,
  store,
  chosen,
  pickId,
  problems,
  sweep,
  slug,
  job,
  all,
  onAll,
}: Props) {
  const { error, isPlaceholderData } = query;
  return (
    <section
      aria-label="The field of candidates"
      className="px-4 pb-6 pt-4 md:px-6"
      aria-busy={query.isFetching}
    >
      {error && (
        <Trouble
          error={error}
          problems={problems}
          onRetry={() => void query.refetch()}
          stale={data !== undefined}
        />
      )}
      {data && (
        <>
          <div aria-live="polite" className={isPlaceholderData ? "opacity-80" : ""}>
            <p className="text-title font-semibold leading-6.5 tracking-tight">
              <Figure working={data.working} label="How many packs do it" className="text-left">
                {data.headline}
              </Figure>
            </p>
            <p className="mt-0.5 text-ink-faint">{data.subline}</p>
            {data.narrow && (
              <p className="mt-1.5 max-w-prose border-l-4 border-fjord pl-2 text-plain">
                {data.narrow.sentence}
              </p>
            )}
          </div>
          <FieldPlot
            plan={data}
            job={store.job}
            store={store}
            pickId={pickId}
            pins={chosen.pins}
            onPick={chosen.setPick}
            sweep={sweep}
          />
          <Legend />
          {data.coarser && <p className="mt-1 text-small">{data.coarser}</p>}
          <Folded name="As a table" className="no-print mt-1 text-small text-ink-faint">
            <Suspense fallback={<Waiting words="Fetching the table…" />}>
              <FieldTable plan={data} onPick={chosen.setPick} />
            </Suspense>
          </Folded>
          {data.conflict && <Conflict plan={data} onPick={chosen.setPick} />}
          <Shortlist
            plan={data}
            slug={slug}
            job={job}
            chosen={chosen}
            pickId={pickId}
            all={all}
            onAll={onAll}
          />
        </>
      )}
    </section>
  );
}

type TroubleProps = {
  error: Error;
  problems: ReadonlyMap<string, string>;
  onRetry: () => void;
  stale: boolean;
};

function Trouble({ error, problems, onRetry, stale }: TroubleProps) {
  return (
    <div role="alert" className="mb-3 border-l-4 border-alert bg-sheet px-4 py-2">
      <p className="font-semibold">{error.message}</p>
      <p className="text-small text-ink-faint">
        {problems.size > 0 ? "It is marked at its field; what you typed is kept on the screen." : ""}
        {stale ? " Below is the last plan that worked." : ""}
      </p>
      {problems.size === 0 && (
        <button type="button" className="action mt-1" onClick={onRetry}>
          Try again
        </button>
      )}
    </div>
  );
}

function Conflict({ plan, onPick }: { plan: Plan; onPick: (id: string) => void }) {
  if (!plan.conflict) return null;
  return (
    <div className="mt-3 border-l-4 border-fjord bg-sheet px-4 py-2">
      <p className="heading">What nearest would do</p>
      <p className="mt-0.5">{plan.conflict.sentence}</p>
      <ul className="mt-1 space-y-1">
        {plan.conflict.reliefs.map((relief) => (
          <li key={relief.id + relief.gives.join()}>
            {relief.gives.length > 0 && (
              <span className="text-ink-faint">Giving way on {relief.gives.join(" and ")}: </span>
            )}
            <button type="button" className="action" onClick={() => onPick(relief.id)}>
              {relief.sentence}
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
