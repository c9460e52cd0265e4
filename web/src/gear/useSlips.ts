import { keepPreviousData, queryOptions, useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { answered, client } from "@/api/client";
import type { GearKind, Question } from "@/api/types";
import type { Back } from "@/parts/NumberField";

const slipsQuery = (kind: GearKind, row: Record<string, unknown>, sure: string[]) =>
  queryOptions({
    queryKey: ["slips", kind, row, sure],
    queryFn: ({ signal }): Promise<Question[]> =>
      answered(client.POST("/api/gear/questions", { body: { kind, row, sure }, signal })),
    placeholderData: keepPreviousData,
    gcTime: 60_000,
    retry: false,
  });

/** What looks like a slip in gear as it is typed, by its field; nothing while there is no line. */
export function useSlips(kind: GearKind, draft: Record<string, unknown>): (name: string) => Back | undefined {
  const settled = useDeferredValue(draft);
  const [sure, setSure] = useState<string[]>([]);
  const { data = [], isPlaceholderData } = useQuery(slipsQuery(kind, settled, sure));
  return (name) => {
    if (settled !== draft || isPlaceholderData) return undefined;
    const found = data.find((q) => q.field === name);
    return found && { ...found, onSure: () => setSure((before) => [...before, name]) };
  };
}
