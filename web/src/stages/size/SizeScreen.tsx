import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import { useEffect } from "react";
import { ApiProblem } from "@/api/problem";
import { rememberModel } from "@/app/lastModel";
import { modelQuery, modelsQuery } from "@/app/queries";
import { Workbench } from "@/stages/size/Workbench";

export function SizeScreen() {
  const { model: slug } = useParams({ from: "/size/$model" });
  const { data: model, error, refetch } = useQuery(modelQuery(slug));
  useEffect(() => {
    if (model) {
      rememberModel(slug);
      document.title = `${model.name}: size · Cold Stack`;
    }
  }, [model, slug]);
  if (error) return <Missing error={error} onRetry={() => void refetch()} />;
  if (!model) return <Pending />;
  return <Workbench key={model.slug} model={model} />;
}

function Pending() {
  return (
    <main className="flex-1 px-6 py-10 text-ink-faint" aria-busy="true">
      <h1 className="sr-only">Size</h1>
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
      <p className="mt-2 text-ink-soft">{unknown ? "Choose one of yours:" : error.message}</p>
      {unknown ? (
        <ul className="mt-3 space-y-1">
          {models.map((m) => (
            <li key={m.slug}>
              <Link to="/size/$model" params={{ model: m.slug }} className="action">
                {m.name}
              </Link>
            </li>
          ))}
        </ul>
      ) : (
        <button type="button" className="control mt-4" onClick={onRetry}>
          Try again
        </button>
      )}
    </main>
  );
}
