// @vitest-environment happy-dom
import { beforeEach, expect, it, vi } from "vitest";
import { keptStore, store } from "@/app/store";

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
