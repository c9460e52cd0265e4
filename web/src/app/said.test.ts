// @vitest-environment happy-dom
import { beforeEach, expect, it, vi } from "vitest";

async function said() {
  vi.resetModules();
  return import("@/app/said");
}
const look = (key: string, tag = "04") => ({
  kind: "look" as const,
  key,
  at: new Date().toISOString(),
  body: { tag, signs: ["swollen"], at_room: false, temperature_c: null },
});
const run = (key: string, pack: string) => ({
  kind: "run" as const,
  key,
  at: new Date().toISOString(),
  body: { key, model: "mine", pack, at: "", minutes: 8 },
});

beforeEach(() => localStorage.clear());

it("counts what the server has not, and what it had after an answer was asked for", async () => {
  const { saidHere, wasSent, unknownTo, toldNow } = await said();
  saidHere(look("key-1"));
  expect(unknownTo(toldNow(), "04").map((a) => a.key)).toEqual(["key-1"]);
  const asked = toldNow();
  wasSent("key-1");
  expect(unknownTo(asked, "04")).toHaveLength(1);
  expect(unknownTo(toldNow(), "04")).toHaveLength(0);
});

it("is of that pack alone, or of two that ran together", async () => {
  const { saidHere, unknownTo } = await said();
  saidHere(look("key-1", "05"));
  saidHere(run("key-2", "04+06"));
  expect(unknownTo(0, "04").map((a) => a.key)).toEqual(["key-2"]);
  expect(unknownTo(0, "06").map((a) => a.key)).toEqual(["key-2"]);
  expect(unknownTo(0, "04+06").map((a) => a.key)).toEqual(["key-2"]);
  expect(unknownTo(0, "0")).toHaveLength(0);
});

it("forgets what was taken back, and is there again after a reload", async () => {
  const first = await said();
  first.saidHere(look("key-1"));
  first.saidHere(look("key-2"));
  first.neverSaid("key-1");
  const again = await said();
  expect(again.unknownTo(0, "04").map((a) => a.key)).toEqual(["key-2"]);
});

it("knows that something else was changed since an answer was asked for", async () => {
  const { toldOther, otherSince, toldNow } = await said();
  const asked = toldNow();
  expect(otherSince(asked)).toBe(false);
  toldOther();
  expect(otherSince(asked)).toBe(true);
  expect(otherSince(toldNow())).toBe(false);
});
