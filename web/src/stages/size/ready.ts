import type { Aim } from "@/api/types";
import { modelQuery } from "@/app/queries";
import { had } from "@/app/ready";
import { detailsQuery, planQuery } from "@/stages/size/queries";

type At = { model: string; aim?: Aim | undefined; pick?: string | undefined };

/** The plan, and the pack that is picked, before anything is painted. */
export async function ready({ model, aim = "all_round", pick }: At): Promise<void> {
  const { job } = await had(modelQuery(model));
  const shown = async (id: string | undefined | null) => {
    if (id) await had(detailsQuery(model, job, [id]));
  };
  const plan = had(planQuery(model, job, aim));
  await Promise.all([plan, pick ? shown(pick) : plan.then(({ best }) => shown(best))]);
}
