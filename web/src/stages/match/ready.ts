import { modelQuery } from "@/app/queries";
import { had } from "@/app/ready";
import { gridQuery, matchQuery } from "@/stages/match/queries";
import { chargeAsk, type MatchSearch } from "@/stages/match/useMatchChoice";

/** Both chains and the grid, before anything is painted. */
export async function ready({ model, ...search }: { model: string } & MatchSearch): Promise<void> {
  const { job } = await had(modelQuery(model));
  await Promise.all([had(matchQuery(model, job, search.pack, chargeAsk(search))), had(gridQuery(job))]);
}
