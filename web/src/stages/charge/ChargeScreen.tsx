import { useQuery } from "@tanstack/react-query";
import { useParams } from "@tanstack/react-router";
import { useRemembered } from "@/app/useRemembered";
import { ChargeBench } from "@/stages/charge/ChargeBench";
import { benchQuery } from "@/stages/charge/queries";

/** The bench: lay out, read, batch, schedule, watch. */
export function ChargeScreen() {
  const { model } = useParams({ from: "/charge/$model" });
  const { data: kept, error, refetch } = useQuery(benchQuery);
  useRemembered(model, "Charge");
  if (kept) return <ChargeBench kept={kept} model={model} />;
  return (
    <main className="flex-1 px-6 py-10" aria-busy={!error}>
      <h1 className="sr-only">Charge</h1>
      {error ? (
        <>
          <p className="text-lead font-semibold">{error.message}</p>
          <button type="button" className="control mt-4" onClick={() => void refetch()}>
            Try again
          </button>
        </>
      ) : (
        <p className="text-ink-faint">Fetching the bench…</p>
      )}
    </main>
  );
}
