import { keepPreviousData, type QueryClient, queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { Change, Note, PackPage, Place, PlaceAsk, Shelf, ToStorage } from "@/api/types";
import { notify } from "@/app/notices";

export type State = "full" | "part" | "stored" | "spent" | "too_low";

export const shelfQuery = queryOptions({
  queryKey: ["shelf"],
  queryFn: ({ signal }): Promise<Shelf> => answered(client.GET("/api/keep/shelf", { signal })),
  placeholderData: keepPreviousData,
  refetchInterval: 60_000,
  // charges and readings change it behind the screens
  staleTime: 0,
});

export const pageQuery = (tag: string) =>
  queryOptions({
    queryKey: ["pack-page", tag],
    queryFn: ({ signal }): Promise<PackPage> =>
      answered(client.GET("/api/keep/packs/{tag}", { params: { path: { tag } }, signal })),
    staleTime: 0,
  });

export const placeQuery = queryOptions({
  queryKey: ["place"],
  queryFn: ({ signal }): Promise<Place> => answered(client.GET("/api/keep/place", { signal })),
});

export function keepPlace(body: PlaceAsk): Promise<Place> {
  return answered(client.PUT("/api/keep/place", { body }));
}

export const toStorageQuery = (tag: string, cells: string, model: string) =>
  queryOptions({
    queryKey: ["pack-page", tag, "to-storage", cells, model],
    queryFn: ({ signal }): Promise<ToStorage> =>
      answered(
        client.GET("/api/keep/packs/{tag}/to-storage", {
          params: { path: { tag }, query: { cells, model } },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });

type CheckDraft = {
  cells: string;
  mohm: string;
  temperature_c: number | null;
  put_in_mah: number | null;
  balance_min: number | null;
};

export function checkPack(tag: string, body: CheckDraft): Promise<{ records: number[]; label: string }> {
  return answered(client.POST("/api/keep/packs/{tag}/checks", { params: { path: { tag } }, body }));
}

export function tickRetirement(tag: string, ticked: string[]): Promise<unknown> {
  return answered(
    client.PUT("/api/keep/packs/{tag}/retirement", { params: { path: { tag } }, body: { ticked } }),
  );
}

export function addNote(tag: string, text: string): Promise<Note> {
  return answered(client.POST("/api/keep/packs/{tag}/notes", { params: { path: { tag } }, body: { text } }));
}

export function removeNote(id: number): Promise<Note> {
  return answered(client.DELETE("/api/keep/notes/{note_id}", { params: { path: { note_id: id } } }));
}

export function bringNoteBack(id: number): Promise<Note> {
  return answered(client.POST("/api/keep/notes/{note_id}/back", { params: { path: { note_id: id } } }));
}

export function leave(packs: string[], state: State): Promise<{ records: number[]; label: string }> {
  return answered(client.POST("/api/keep/left", { body: { packs, state } }));
}

export async function takeOut(tag: string, why: string): Promise<Change> {
  const body = { pack: `owned:${tag}`, why: why.slice(0, 100) };
  return (await answered(client.POST("/api/bench/retire", { body }))).change;
}

/** The shelf and the pages of its packs are asked anew. */
export function keepChanged(queries: QueryClient): void {
  for (const key of ["shelf", "pack-page"]) void queries.invalidateQueries({ queryKey: [key] });
}

/** Say what was noted, and offer to take it back. */
export function tellNoted(queries: QueryClient, done: { records: number[]; label: string }): void {
  keepChanged(queries);
  const back = () => unleave(done.records).then(() => keepChanged(queries));
  notify(done.label, { act: { name: "Undo", run: () => void back() } });
}

function unleave(records: number[]): Promise<unknown> {
  return answered(client.POST("/api/keep/left/undo", { body: { records } }));
}
