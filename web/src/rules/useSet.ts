import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useMemo, useSyncExternalStore } from "react";
import { ApiProblem, fieldsOf } from "@/api/problem";
import type { RuleSet } from "@/api/types";
import { touched } from "@/app/act";
import { DocumentStore, type Kept, storeOf } from "@/app/documentStore";
import { edit } from "@/app/undo";
import { useDocument } from "@/app/useDocument";
import { changeSet, fetchSet } from "@/rules/queries";

type Draft = { values: Record<string, number>; name: string; note: string };
const NONE: ReadonlyMap<string, string> = new Map();

/**
 * A set as edited here: kept shortly after each change; what is refused stays on the screen with its
 * reason, and is not kept.
 */
export function useSet(set: RuleSet) {
  const queries = useQueryClient();
  const document = useMemo(() => storeOf(`set:${set.id}`, () => setStore(queries, set)), [queries, set]);
  const save = useSyncExternalStore(document.listen, () => document.save);
  const kept = useMemo(() => keptSet(set), [set]);
  const draft = useDocument(document, kept);
  const problems = useMemo(
    () => (save.at === "failed" ? fieldsOf(save.problem, "Not kept: the server does not answer.") : NONE),
    [save],
  );
  const change = (label: string, part: Partial<Draft>) =>
    edit(document, { ...draft, ...part }, { label, path: "/rules", name: set.name, continues: true });
  return { draft, change, problems, saving: document };
}

function keptSet(set: RuleSet): Kept<Draft> {
  const value = { values: set.values, name: set.name, note: set.own ? set.why : "" };
  return { value, version: set.version };
}

function setStore(queries: QueryClient, set: RuleSet): DocumentStore<Draft> {
  return new DocumentStore<Draft>(keptSet(set), {
    get: async () => {
      const now = await fetchSet(set.id);
      if (!now) throw new ApiProblem(404, { detail: "This set is gone." });
      return keptSet(now);
    },
    put: async (draft, version) => {
      const now = await changeSet(set.id, set.own ? draft : { values: draft.values }, version);
      touched(queries, "rules");
      return { value: draft, version: now.version };
    },
    show: () => {},
  });
}
