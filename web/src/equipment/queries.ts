import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { EquipmentAnswers, EquipmentKind, Served } from "@/api/types";

export const equipmentKindsQuery = queryOptions({
  queryKey: ["equipment-kinds"],
  queryFn: ({ signal }): Promise<EquipmentKind[]> =>
    answered(client.GET("/api/equipment-kinds", { signal })) as Promise<EquipmentKind[]>,
  staleTime: Number.POSITIVE_INFINITY,
});

export const servedQuery = (answers: EquipmentAnswers) =>
  queryOptions({
    queryKey: ["served", answers],
    meta: { reads: ["gear", "rules"] },
    queryFn: ({ signal }): Promise<Served> =>
      answered(client.POST("/api/describe-equipment", { body: answers, signal })),
    placeholderData: keepPreviousData,
    gcTime: 60_000,
    retry: false,
  });

/** Kept beside the models: it is sized, matched, charged for and kept as they are. */
export function addServed({ job, description }: Served) {
  const body = { name: job.name ?? "", description, job };
  return answered(client.POST("/api/gear/models", { body }));
}
