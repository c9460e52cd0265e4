import { type QueryClient, queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type {
  Change,
  ChargerLead,
  GearKind,
  GearRows,
  ImportProgress,
  ImportReport,
  Label,
  LogFindings,
  LogReport,
  Offer,
  OfferLine,
  Twin,
} from "@/api/types";
import { tell, type Verb } from "@/app/act";

type Kept<K extends GearKind> = { row: GearRows[K]; change: Change };
// every kind has the same verbs; the client knows them by their addresses, one of which stands for all here
type Address = "/api/gear/packs";
type RowAddress = "/api/gear/packs/{row_id}";
type CopyAddress = "/api/gear/packs/{row_id}/copy";

export const gearQuery = <K extends GearKind>(kind: K) =>
  queryOptions({
    queryKey: ["gear", kind],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: async ({ signal }) =>
      (await answered(client.GET(`/api/gear/${kind}` as Address, { signal }))) as unknown as GearRows[K][],
  });

export function addGear<K extends GearKind>(kind: K, draft: Record<string, unknown>): Promise<Kept<K>> {
  const call = client.POST(`/api/gear/${kind}` as Address, { body: draft as never });
  return answered(call) as unknown as Promise<Kept<K>>;
}

/** Only what was changed is sent, and from which version: other screens may have written the rest since. */
export function changeGear<K extends GearKind>(
  kind: K,
  id: number,
  part: Record<string, unknown>,
  version = "*",
): Promise<Kept<K>> {
  const call = client.PATCH(`/api/gear/${kind}/{row_id}` as RowAddress, {
    params: { path: { row_id: id }, header: { "If-Match": version } },
    body: part as never,
  });
  return answered(call) as unknown as Promise<Kept<K>>;
}

export function copyGear<K extends GearKind>(kind: K, id: number): Promise<Kept<K>> {
  const call = client.POST(`/api/gear/${kind}/{row_id}/copy` as CopyAddress, {
    params: { path: { row_id: id } },
  });
  return answered(call) as unknown as Promise<Kept<K>>;
}

export async function removeGear(kind: GearKind, id: number): Promise<Change> {
  const call = client.DELETE(`/api/gear/${kind}/{row_id}` as RowAddress, {
    params: { path: { row_id: id } },
  });
  return (await answered(call)).change;
}

/** All or none, and undone in one step. */
export async function removeSeveral(kind: GearKind, ids: number[]): Promise<Change> {
  const call = client.POST(`/api/gear/${kind}/remove` as "/api/gear/packs/remove", { body: { ids } });
  return (await answered(call)).change;
}

export function twinOf(kind: GearKind, id: number): Promise<Twin> {
  return answered(
    client.GET(`/api/gear/${kind}/{row_id}/twin` as "/api/gear/packs/{row_id}/twin", {
      params: { path: { row_id: id } },
    }),
  );
}

export function leadFor(charger: number): Promise<ChargerLead> {
  return answered(client.GET("/api/gear/chargers/{row_id}/lead", { params: { path: { row_id: charger } } }));
}

export function readOffers(text: string): Promise<OfferLine[]> {
  return answered(client.POST("/api/offers/read", { body: { text } })) as Promise<OfferLine[]>;
}

export function takeOffers(packs: Offer[]): Promise<{ added: number; change: Change | null }> {
  return answered(client.POST("/api/offers", { body: { packs } }));
}

export function buyPack(id: number, tag: string): Promise<{ tag: string; change: Change }> {
  return answered(
    client.POST("/api/gear/catalogue/{row_id}/buy", { params: { path: { row_id: id } }, body: { tag } }),
  );
}

export function readLabel(line: string, wires: number | null, volts: number | null): Promise<Label> {
  return answered(
    client.POST("/api/labels/read", { body: { line, balance_wires: wires, measured_v: volts } }),
  );
}

/** A pack goes by what a log taught of it; null for its label and readings again. */
export function keepLearnt(tag: string, learnt: LogFindings | null): Promise<Change> {
  return answered(
    client.PUT("/api/keep/packs/{tag}/learnt", { params: { path: { tag } }, body: { learnt } }),
  );
}

/** A change of gear: said, and undone by a press. */
const changed: Omit<Verb<Change>, "act" | "fails"> = {
  touches: ["gear"],
  says: (change) => change.label,
  undo: undoVerb,
};

/** What takes a change of gear back, and what does it again. */
export function undoVerb(change: Change): Verb {
  const params = { path: { change_id: change.id } };
  return {
    act: () => answered(client.POST("/api/gear/changes/{change_id}/undo", { params })),
    touches: ["gear"],
    fails: "It could not be undone.",
    says: () => `Undone: ${change.label}`,
    undo: () => ({
      act: () => answered(client.POST("/api/gear/changes/{change_id}/redo", { params })),
      touches: ["gear"],
      fails: "It could not be done again.",
      says: () => change.label,
      undo: () => undoVerb(change),
      name: "Redo",
    }),
  };
}

export function changeVerb(act: () => Promise<Change>, fails: string): Verb<Change> {
  return { ...changed, act, fails };
}

/** Say what was done, and offer to undo it; everything that shows gear asks anew. */
export function tellChange(queries: QueryClient, change: Change): void {
  tell(queries, changed, change);
}

export const changesQuery = queryOptions({
  queryKey: ["gear", "changes"],
  meta: { reads: ["life", "gear"] },
  queryFn: ({ signal }): Promise<Change[]> => answered(client.GET("/api/gear/changes", { signal })),
});

type FormBody = { file: string; kind?: string; token?: string };

function form(file: File, kind: string, token: string) {
  const data = new FormData();
  data.append("file", file);
  data.append("kind", kind);
  data.append("token", token);
  // the schema describes the parts; the browser sends the form itself
  return {
    body: data as unknown as FormBody,
    bodySerializer: (body: FormBody) => body as unknown as FormData,
  };
}

export function previewImport(file: File, kind: string, token: string): Promise<ImportReport> {
  return answered(client.POST("/api/files/preview", form(file, kind, token)));
}

export function runImport(file: File, kind: string, token: string): Promise<ImportReport> {
  return answered(client.POST("/api/files/import", form(file, kind, token)));
}

type LogBody = { file: string; store?: boolean };

export function takeLog(file: File, store: boolean): Promise<LogReport> {
  const data = new FormData();
  data.append("file", file);
  data.append("store", String(store));
  return answered(
    client.POST("/api/keep/log", {
      body: data as unknown as LogBody,
      bodySerializer: (body: LogBody) => body as unknown as FormData,
    }),
  );
}

export function importProgress(token: string): Promise<ImportProgress> {
  return answered(client.GET("/api/files/progress/{token}", { params: { path: { token } } }));
}

export function stopImport(token: string): Promise<ImportProgress> {
  return answered(client.POST("/api/files/progress/{token}/stop", { params: { path: { token } } }));
}
