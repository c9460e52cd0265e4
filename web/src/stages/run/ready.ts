import { modelQuery, modelsQuery } from "@/app/queries";
import { had } from "@/app/ready";
import { landingsQuery, runPacksQuery, runsQuery } from "@/stages/run/queries";

/** The model, its packs and its runs, before anything is painted. */
export async function ready({ model }: { model: string }): Promise<void> {
  await Promise.all([
    had(modelQuery(model)),
    had(runPacksQuery(model)),
    had(runsQuery(model)),
    had(landingsQuery),
    had(modelsQuery),
  ]);
}
