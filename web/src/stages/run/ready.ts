import { modelQuery, modelsQuery } from "@/app/queries";
import { had } from "@/app/ready";
import { keptDayQuery } from "@/app/tomorrow";
import { landingsQuery, runPacksQuery, runsQuery } from "@/stages/run/queries";

/** The model, its packs, its runs and the day ahead, before anything is painted. */
export async function ready({ model }: { model: string }): Promise<void> {
  await Promise.all([
    had(modelQuery(model)),
    had(runPacksQuery(model)),
    had(runsQuery(model)),
    had(landingsQuery),
    had(modelsQuery),
    had(keptDayQuery),
  ]);
}
