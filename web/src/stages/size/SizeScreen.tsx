import { useQuery } from "@tanstack/react-query";
import { useParams } from "@tanstack/react-router";
import { lazy, useEffect } from "react";
import { nothingOf } from "@/api/problem";
import type { Model } from "@/api/types";
import { rememberModel } from "@/app/lastModel";
import { modelQuery } from "@/app/queries";
import { StageWaiting } from "@/parts/StageWaiting";
import { useTitle } from "@/parts/useTitle";
import { Workbench } from "@/stages/size/Workbench";

const MissingModel = lazy(() => import("@/app/MissingModel"));

/** What a screen says of a model; what its job is changed to is heard where the job is shown. */
const shown = ({ slug, name }: Model) => ({ slug, name });

export function SizeScreen() {
  const { model: slug } = useParams({ from: "/size/$model" });
  const { data: model, error, refetch } = useQuery({ ...modelQuery(slug), select: shown });
  useTitle(model?.name, "Size");
  useEffect(() => {
    if (model) rememberModel(slug);
  }, [model, slug]);
  if (nothingOf(model, error))
    return <MissingModel error={error} to="/size/$model" onRetry={() => void refetch()} />;
  if (!model) return <StageWaiting heading="Size" words="Running every candidate through the job…" />;
  return <Workbench key={model.slug} model={model} />;
}
