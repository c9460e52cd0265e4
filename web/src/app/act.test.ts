// @vitest-environment happy-dom
import { QueryClient } from "@tanstack/react-query";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { ApiProblem } from "@/api/problem";
import { perform, touched, type Verb } from "@/app/act";
import * as notices from "@/app/notices";

let queries: QueryClient;
let said: { words: string; wrong?: boolean; act?: { name: string; run: () => void } }[];

/** A query that counts how often it was asked. */
function reading(name: string, reads: ("life" | "gear" | "rules")[]) {
  const asked = vi.fn(async () => name);
  const query = { queryKey: [name], queryFn: asked, meta: { reads } };
  void queries.fetchQuery(query);
  return { asked, stale: () => queries.getQueryState([name])?.isInvalidated };
}

beforeEach(() => {
  queries = new QueryClient();
  said = [];
  vi.spyOn(notices, "notify").mockImplementation(
    (words, options = {}) => void said.push({ words, ...options }),
  );
});
afterEach(() => void vi.restoreAllMocks());

it("asks anew whoever reads what was touched, and nobody else", async () => {
  const shelf = reading("shelf", ["life", "rules"]);
  const models = reading("models", ["gear"]);
  await vi.waitFor(() => expect(queries.getQueryData(["models"])).toBe("models"));
  touched(queries, "life");
  expect([shelf.stale(), models.stale()]).toEqual([true, false]);
});

it("does, says, offers to take back, and says when that fails", async () => {
  const undone = vi.fn(async () => {
    throw new ApiProblem(422, { detail: "Newer than this." });
  });
  const verb: Verb<number> = {
    act: async () => 7,
    touches: ["gear"],
    fails: "No.",
    says: (n) => `Added ${n}`,
    undo: () => ({ act: undone, touches: ["gear"], fails: "It could not be undone." }),
  };
  expect(await perform(queries, verb)).toBe(true);
  expect(said[0]).toMatchObject({ words: "Added 7", act: { name: "Undo" } });
  said[0]?.act?.run();
  await vi.waitFor(() => expect(said).toHaveLength(2));
  expect(said[1]).toEqual({ words: "Newer than this.", wrong: true });
});

it("touches nothing that failed, and tells it at its place", async () => {
  const shelf = reading("shelf", ["life"]);
  await vi.waitFor(() => expect(queries.getQueryData(["shelf"])).toBe("shelf"));
  const act = async () => {
    throw new TypeError("a fault of ours");
  };
  const wrong = vi.fn();
  expect(
    await perform(queries, { act, touches: ["life"], fails: "It could not be kept.", onFail: wrong }),
  ).toBe(false);
  expect(wrong).toHaveBeenCalledWith("It could not be kept.");
  expect([shelf.stale(), said]).toEqual([false, []]);
});

it("lets a first answer that is under way go, and asks again", async () => {
  const answers = [new Promise<string>(() => undefined), Promise.resolve("new")];
  const asked = vi.fn(() => answers.shift() ?? Promise.resolve("newer"));
  const { QueryObserver } = await import("@tanstack/react-query");
  const seen = new QueryObserver(queries, { queryKey: ["shelf"], queryFn: asked, meta: { reads: ["life"] } });
  const stop = seen.subscribe(() => undefined);
  touched(queries, "life");
  await vi.waitFor(() => expect(seen.getCurrentResult().data).toBe("new"));
  stop();
});
