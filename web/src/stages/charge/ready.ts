import { had } from "@/app/ready";
import { localMinute } from "@/format/time";
import { benchQuery, chargesQuery, planQuery } from "@/stages/charge/queries";

/** The bench with its plan, and what charges, before anything is painted. */
export async function ready(): Promise<void> {
  const plan = async () => had(planQuery({ ...(await had(benchQuery)).bench, at: localMinute() }));
  await Promise.all([plan(), had(chargesQuery)]);
}
