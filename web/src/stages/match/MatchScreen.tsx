import { useQuery } from "@tanstack/react-query";
import { useParams } from "@tanstack/react-router";
import { lazy, useEffect } from "react";
import { rememberModel } from "@/app/lastModel";
import { modelQuery } from "@/app/queries";
import { StageWaiting } from "@/parts/StageWaiting";
import { useTitle } from "@/parts/useTitle";
import { MatchBench } from "@/stages/match/MatchBench";

const MissingModel = lazy(() => import("@/app/MissingModel"));

/** Will it plug in, and can I charge it. */
export function MatchScreen() {
  const { model: slug } = useParams({ from: "/match/$model" });
  const { data: model, error, refetch } = useQuery(modelQuery(slug));
  useTitle(model?.name, "Match");
  useEffect(() => {
    if (model) rememberModel(slug);
  }, [model, slug]);
  if (model) return <MatchBench key={slug} model={model} />;
  if (error) return <MissingModel error={error} to="/match/$model" onRetry={() => void refetch()} />;
  return <StageWaiting heading="Match" words="Fetching the model…" />;
}
