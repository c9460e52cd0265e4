import type { Aim } from "@/api/types";
import { lookAt } from "@/stages/size/queries";

type At = { model: string; aim?: Aim | undefined; pick?: string | undefined };

/** The plan, and the pack that is picked, before anything is painted. */
export const ready = ({ model, aim = "all_round", pick }: At): Promise<void> => lookAt(model, aim, pick);
