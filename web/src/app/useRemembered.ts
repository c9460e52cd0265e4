import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { rememberModel } from "@/app/lastModel";
import { modelsQuery } from "@/app/queries";

/** The page's title, and its model remembered for the next visit, if there is such a model. */
export function useRemembered(model: string, title: string): void {
  const { data: models } = useQuery(modelsQuery);
  const there = models?.some((m) => m.slug === model) ?? false;
  useEffect(() => {
    document.title = `${title} · Cold Stack`;
    if (there) rememberModel(model);
  }, [model, title, there]);
}
