// @vitest-environment happy-dom
import { beforeEach, expect, it, vi } from "vitest";
import { keeping, keptStore, store } from "@/app/store";

const number = (was: unknown) => (typeof was === "number" ? was : 7);
beforeEach(() => localStorage.clear());

it("holds what was set", () => {
  const made = store("a");
  made.set("b");
  expect(made.get()).toBe("b");
});

it("is there again after a reload", () => {
  keptStore("n", number).set(3);
  expect(keptStore("n", number).get()).toBe(3);
});

it("begins anew from what is no JSON, or of another shape", () => {
  localStorage.setItem("n", "{broken");
  expect(keptStore("n", number).get()).toBe(7);
  localStorage.setItem("n", '"text"');
  expect(keptStore("n", number).get()).toBe(7);
});

it("forgets what is set to nothing", () => {
  const made = keptStore<number | undefined>("n", (was) => was as number | undefined);
  made.set(3);
  made.set(undefined);
  expect(localStorage.getItem("n")).toBeNull();
});

it("still holds it where the browser keeps nothing", () => {
  const made = keptStore("n", number, () => {
    throw new DOMException("forbidden");
  });
  made.set(5);
  expect(made.get()).toBe(5);
});

it("still holds it when the browser is full", () => {
  const full = { ...localStorage, getItem: () => null, setItem: vi.fn().mockImplementation(() => fail()) };
  const fail = () => {
    throw new DOMException("full", "QuotaExceededError");
  };
  const made = keptStore("n", number, () => full as unknown as Storage);
  made.set(5);
  expect(made.get()).toBe(5);
  expect(full.setItem).toHaveBeenCalledOnce();
});

it("loses nothing that a full browser did not keep beside what it had", () => {
  const kept = new Map<string, string>();
  let full = false;
  const where = () =>
    ({
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, value: string) => {
        if (full) throw new DOMException("full", "QuotaExceededError");
        kept.set(key, value);
      },
    }) as unknown as Storage;
  const heard: boolean[] = [];
  keeping.heard = (well) => void heard.push(well);
  const made = keptStore<string[]>("runs", (was) => (Array.isArray(was) ? was : []), where);
  made.update((runs) => [...runs, "first"]);
  full = true;
  made.update((runs) => [...runs, "second"]);
  made.update((runs) => [...runs, "third"]);
  expect(made.get()).toEqual(["first", "second", "third"]);
  full = false;
  made.update((runs) => [...runs, "fourth"]);
  expect(JSON.parse(kept.get("runs") ?? "")).toEqual(["first", "second", "third", "fourth"]);
  expect(heard).toEqual([true, false, false, true]);
  keeping.heard = () => undefined;
});

it("takes as kept what is read back, and nothing else", () => {
  const heard: boolean[] = [];
  keeping.heard = (well) => void heard.push(well);
  const where = () => ({ getItem: () => null, setItem: () => undefined }) as unknown as Storage;
  keptStore("n", number, where).set(3);
  expect(heard).toEqual([false]);
  keeping.heard = () => undefined;
});
