import { lastModel, NO_MODEL } from "@/app/lastModel";
import { pickOf } from "@/app/picked";
import { had } from "@/app/ready";
import { effectsQuery, rulesQuery } from "@/rules/queries";

/** The sets, and what follows the one that is open, before anything is painted. */
export async function ready({ set }: { set?: string | undefined }): Promise<void> {
  const { house } = await had(rulesQuery);
  const model = lastModel();
  if (model !== NO_MODEL) await had(effectsQuery(set ?? house, model, pickOf(model)));
}
