// @vitest-environment happy-dom
import { beforeEach, expect, it, vi } from "vitest";
import { DocumentStore } from "@/app/documentStore";
import * as notices from "@/app/notices";
import { did, edit, redo, type Step, takeBack, undo } from "@/app/undo";

type Doc = { a: number };
const page = (n: number) => ({ label: `figure ${n}`, path: `/page${n}`, name: `page ${n}` });
let said: string[];

function kept(): DocumentStore<Doc> {
  const put = async (value: Doc) => ({ value, version: "2" });
  return new DocumentStore<Doc>({ value: { a: 0 }, version: "1" }, { get: vi.fn(), put, show: () => {} });
}

beforeEach(async () => {
  said = [];
  vi.spyOn(notices, "notify").mockImplementation((words) => void said.push(words));
  // what an earlier test left
  for (let i = 0; i < 20; i++) await undo();
  did({ label: "nothing", take: () => undefined });
  await undo();
  said = [];
});

it("takes back what was done last first, whatever it was done to, and does it again", async () => {
  const [one, other] = [kept(), kept()];
  edit(one, { a: 1 }, page(1));
  edit(other, { a: 2 }, page(2));
  edit(one, { a: 3 }, page(1));
  const seen: number[][] = [];
  for (const act of [undo, undo, undo, undo, redo, redo, redo, redo]) {
    await act();
    seen.push([one.value.a, other.value.a]);
  }
  expect(seen).toEqual([
    [1, 2],
    [1, 0],
    [0, 0],
    [0, 0],
    [1, 0],
    [1, 2],
    [3, 2],
    [3, 2],
  ]);
});

it("takes a drag, or typing in one field, as one; a figure beside it is another", async () => {
  const one = kept();
  const goesOn = { ...page(1), continues: true };
  edit(one, { a: 1 }, page(1));
  for (const a of [2, 3, 4]) edit(one, { a }, goesOn);
  edit(one, { a: 5 }, { ...goesOn, label: "another" });
  await undo();
  expect(one.value.a).toBe(4);
  await undo();
  expect(one.value.a).toBe(0);
});

it("forgets what was undone once something else is done", async () => {
  const one = kept();
  edit(one, { a: 1 }, page(1));
  await undo();
  edit(one, { a: 2 }, page(1));
  await redo();
  expect(one.value.a).toBe(2);
});

it("leaves alone what was changed elsewhere in the same thing since", async () => {
  const one = new DocumentStore<{ a: number; b: number }>(
    { value: { a: 0, b: 0 }, version: "1" },
    { get: vi.fn(), put: async (value) => ({ value, version: "2" }), show: () => {} },
  );
  edit(one, { a: 1, b: 0 }, page(1));
  edit(one, { a: 2, b: 0 }, { ...page(1), continues: true });
  // another tab's
  one.set({ a: 2, b: 5 });
  await undo();
  expect(one.value).toEqual({ a: 0, b: 5 });
  await redo();
  expect(one.value).toEqual({ a: 2, b: 5 });
});

it("says what was taken back where it is not seen", async () => {
  window.history.replaceState(null, "", "/page1/x");
  edit(kept(), { a: 1 }, page(2));
  edit(kept(), { a: 1 }, page(1));
  await undo();
  expect(said).toEqual([]);
  await undo();
  await redo();
  expect(said).toEqual(["Undone: figure 2, page 2", "Done again: figure 2, page 2"]);
});

it("says where there is nothing", async () => {
  await undo();
  await redo();
  expect(said).toEqual(["There is nothing to undo.", "There is nothing to do again."]);
});

it("takes one back out of its turn; what failed can be tried again", async () => {
  const one = kept();
  const taken = vi.fn(async (): Promise<Step | undefined | false> => false);
  const step: Step = { label: "deleted", take: taken };
  did(step);
  edit(one, { a: 1 }, page(1));
  await takeBack(step);
  taken.mockResolvedValue(undefined);
  await Promise.all([takeBack(step), undo()]);
  expect([taken.mock.calls.length, one.value.a]).toEqual([2, 0]);
  await undo();
  expect(taken).toHaveBeenCalledTimes(2);
});
