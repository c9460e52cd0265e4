import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import { useEffect } from "react";
import { ApiProblem } from "@/api/problem";
import { rememberModel } from "@/app/lastModel";
import { modelQuery, modelsQuery } from "@/app/queries";
import { MatchBench } from "@/stages/match/MatchBench";

/** Will it plug in, and can I charge it. */
export function MatchScreen() {
  const { model: slug } = useParams({ from: "/match/$model" });
  const { data: model, error, refetch } = useQuery(modelQuery(slug));
  useEffect(() => {
    if (model) {
      rememberModel(slug);
      document.title = `${model.name}: match · Cold Stack`;
    }
  }, [model, slug]);
  if (model) return <MatchBench key={slug} model={model} />;
  if (error) return <Missing error={error} onRetry={() => void refetch()} />;
  return (
    <main className="flex-1 px-6 py-10 text-ink-faint" aria-busy="true">
      <h1 className="sr-only">Match</h1>
      <p>Fetching the model…</p>
    </main>
  );
}

function Missing({ error, onRetry }: { error: Error; onRetry: () => void }) {
  const { data: models = [] } = useQuery(modelsQuery);
  const unknown = error instanceof ApiProblem && error.status === 404;
  return (
    <main className="mx-auto w-full max-w-lg flex-1 px-6 py-16">
      <h1 className="text-xl font-semibold">
        {unknown ? "There is no such model." : "The model could not be fetched."}
      </h1>
      {unknown ? (
        <ul className="mt-3 space-y-1">
          {models.map((m) => (
            <li key={m.slug}>
              <Link to="/match/$model" params={{ model: m.slug }} className="action">
                {m.name}
              </Link>
            </li>
          ))}
        </ul>
      ) : (
        <>
          <p className="mt-2 text-ink-soft">{error.message}</p>
          <button type="button" className="control mt-4" onClick={onRetry}>
            Try again
          </button>
        </>
      )}
    </main>
  );
}
