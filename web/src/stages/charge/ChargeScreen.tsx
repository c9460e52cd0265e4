import { useQuery } from "@tanstack/react-query";
import { useParams } from "@tanstack/react-router";
import { useRemembered } from "@/app/useRemembered";
import { StageWaiting } from "@/parts/StageWaiting";
import { ChargeBench } from "@/stages/charge/ChargeBench";
import { benchQuery } from "@/stages/charge/queries";

/** The bench: lay out, read, batch, schedule, watch. */
export function ChargeScreen() {
  const { model } = useParams({ from: "/charge/$model" });
  const { data: kept, error, refetch } = useQuery(benchQuery);
  useRemembered(model, "Charge");
  if (kept) return <ChargeBench kept={kept} model={model} />;
  return (
    <StageWaiting heading="Charge" words="Fetching the bench…" error={error} onRetry={() => void refetch()} />
  );
}
