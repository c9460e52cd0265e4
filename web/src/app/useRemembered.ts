import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { rememberModel } from "@/app/lastModel";
import { modelsQuery } from "@/app/queries";
import { useTitle } from "@/parts/useTitle";

/** The page's title, and its model remembered for the next visit, if there is such a model. */
export function useRemembered(model: string, stage: string): void {
  const { data: models } = useQuery(modelsQuery);
  const here = models?.find((m) => m.slug === model);
  useTitle(here?.name, stage);
  useEffect(() => {
    if (here) rememberModel(here.slug);
  }, [here]);
}
