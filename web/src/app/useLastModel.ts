import { useQuery } from "@tanstack/react-query";
import { lastModel, NO_MODEL } from "@/app/lastModel";
import { modelsQuery } from "@/app/queries";

/** The model that was worked on last, if it is still there; else the first; NO_MODEL where there is none. */
export function useLastModel(): string {
  const { data: models } = useQuery(modelsQuery);
  const last = lastModel();
  if (!models || models.some((m) => m.slug === last)) return last;
  return models[0]?.slug ?? NO_MODEL;
}
