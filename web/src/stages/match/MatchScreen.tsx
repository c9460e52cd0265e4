import { useQuery } from "@tanstack/react-query";
import { useParams } from "@tanstack/react-router";
import { useEffect } from "react";
import { rememberModel } from "@/app/lastModel";
import { MissingModel } from "@/app/MissingModel";
import { modelQuery } from "@/app/queries";
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
  if (error) return <MissingModel error={error} to="/match/$model" onRetry={() => void refetch()} />;
  return (
    <main className="flex-1 px-6 py-10 text-ink-faint" aria-busy="true">
      <h1 className="sr-only">Match</h1>
      <p>Fetching the model…</p>
    </main>
  );
}
