import { useQuery } from "@tanstack/react-query";
import { useParams } from "@tanstack/react-router";
import { useEffect } from "react";
import { nothingOf } from "@/api/problem";
import { rememberModel } from "@/app/lastModel";
import { MissingModel } from "@/app/MissingModel";
import { modelQuery } from "@/app/queries";
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
  if (nothingOf(model, error))
    return <MissingModel error={error} to="/size/$model" onRetry={() => void refetch()} />;
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
