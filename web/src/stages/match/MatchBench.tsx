import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { Suspense, useMemo } from "react";
import { ApiProblem } from "@/api/problem";
import type { Match, Model } from "@/api/types";
import { useOffer } from "@/app/commands";
import { useLastGood } from "@/app/useLastGood";
import { Failed } from "@/parts/Failed";
import { lazyPart } from "@/parts/lazyPart";
import { StageWaiting } from "@/parts/StageWaiting";
import { ChargeSide } from "@/stages/match/ChargeSide";
import { DriveSide } from "@/stages/match/DriveSide";
import { MatchGrid } from "@/stages/match/MatchGrid";
import { PackMiddle } from "@/stages/match/PackMiddle";
import { PrintSheet } from "@/stages/match/PrintSheet";
import { gridQuery, matchQuery } from "@/stages/match/queries";
import { SettingsPanel } from "@/stages/match/SettingsPanel";
import { type MatchChoice, useMatchChoice } from "@/stages/match/useMatchChoice";

const BuildDrawn = lazyPart(() => import("@/drawings/BuildDrawn"));
const MatchDrawn = lazyPart(() => import("@/drawings/MatchDrawn"));

/**
 * The pack in the middle, its charge chain to the left, its drive chain to the right; below settings, grid.
 */
export function MatchBench({ model }: { model: Model }) {
  const choice = useMatchChoice();
  const query = useQuery(matchQuery(model.slug, model.job, choice.pack, choice.charge));
  const grid = useQuery(gridQuery(model.job));
  const match = useLastGood(query.data);
  const commands = useMemo(
    () => [
      {
        id: "print-settings",
        name: "Print the build sheet and the charger settings",
        hint: "Ctrl P",
        run: () => window.print(),
      },
    ],
    [],
  );
  useOffer("match", commands);
  if (!match && !query.error)
    return (
      <StageWaiting
        heading={`Match a pack with ${model.name} and a charger`}
        words="Putting the pack between model and charger…"
      />
    );
  return (
    <main className="flex-1" aria-busy={query.isFetching}>
      <h1 className="sr-only">Match a pack with {model.name} and a charger</h1>
      <div className="print-hidden">
        {match ? (
          <Sides model={model} match={match} choice={choice} error={query.error} />
        ) : (
          <NoMatch
            error={query.error}
            onRetry={() => void query.refetch()}
            onBest={
              // without a pack in the address the best was looked for, and there is none
              choice.pack
                ? () => choice.set({ pack: undefined, charger: undefined, supply: undefined })
                : undefined
            }
          />
        )}
        {match && (
          <Suspense fallback={<div className="min-h-96 border-t" />}>
            <MatchDrawn
              slug={model.slug}
              name={model.name}
              job={model.job}
              pack={match.pack.id}
              charge={choice.charge}
            />
          </Suspense>
        )}
        <MatchGrid
          query={grid}
          here={model.slug}
          pack={match?.pack.id}
          charger={match?.charge?.charger}
          choice={choice}
        />
      </div>
      {match && <PrintSheet model={model} match={match} />}
      {match && (
        <Suspense>
          <BuildDrawn slug={model.slug} job={model.job} pack={match.pack.id} charge={choice.charge} />
        </Suspense>
      )}
    </main>
  );
}

type SidesProps = { model: Model; match: Match; choice: MatchChoice; error: Error | null };

function Sides({ model, match, choice, error }: SidesProps) {
  const problems = error instanceof ApiProblem ? error.fields : new Map<string, string>();
  return (
    <>
      <div className="grid grid-cols-1 lg:grid-cols-[minmax(0,1fr)_14.75rem_minmax(0,1fr)]">
        <div className="order-3 border-t px-4 py-5 md:px-6 lg:order-1 lg:border-t-0">
          <ChargeSide match={match} choice={choice} problems={problems} />
        </div>
        <div className="order-1 bg-sheet px-4 py-5 lg:order-2 lg:border-x">
          <PackMiddle
            pack={match.pack}
            drive={match.drive}
            subject={match.charge?.subject ?? ""}
            choice={choice}
            problem={problems.get("pack")}
          />
        </div>
        <div className="order-2 border-t px-4 py-5 md:px-6 lg:order-3 lg:border-t-0">
          <DriveSide drive={match.drive} name={model.name} pack={match.pack} />
        </div>
      </div>
      {match.charge?.settings && (
        <SettingsPanel charge={match.charge} settings={match.charge.settings} pack={match.pack} />
      )}
    </>
  );
}

type NoMatchProps = { error: Error | null; onRetry: () => void; onBest: (() => void) | undefined };

function NoMatch({ error, onRetry, onBest }: NoMatchProps) {
  if (!error) return null;
  if (!(error instanceof ApiProblem && error.status >= 400))
    return <Failed error={error} onRetry={onRetry} className="px-6 py-10" />;
  return (
    <div className="max-w-prose px-6 py-10">
      <p className="text-lead font-semibold">{error.message}</p>
      <p className="mt-3 flex flex-wrap gap-4">
        <Link to="/gear/$kind" params={{ kind: "packs" }} search={{ edit: "new" }} className="primary">
          Add a pack
        </Link>
        {onBest && (
          <button type="button" className="control" onClick={onBest}>
            Take the owned pack that fits best
          </button>
        )}
      </p>
    </div>
  );
}
