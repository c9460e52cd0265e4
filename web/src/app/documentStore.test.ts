import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { ApiProblem } from "@/api/problem";
import { DocumentStore, type Kept, RETRY_AFTER_MS, SAVE_AFTER_MS } from "@/app/documentStore";
import { merge } from "@/app/merge";

type Doc = { a: number; b: number; list?: { id: string; n: number }[] };

/** A server with one document: it refuses what was made of another version, and can be slow or silent. */
class Server {
  kept: Kept<Doc> = { value: { a: 1, b: 1 }, version: "1" };
  puts: Doc[] = [];
  slow: ((go: () => void) => void)[] = [];
  silent = false;
  refuses: string | undefined;

  get = async () => structuredClone(this.kept);
  put = async (value: Doc, version: string) => {
    this.puts.push(value);
    const wait = this.slow.shift();
    if (wait) await new Promise<void>(wait);
    if (this.silent) throw new ApiProblem(0);
    if (this.refuses) throw new ApiProblem(422, { detail: this.refuses });
    if (version !== this.kept.version) throw new ApiProblem(412);
    this.elsewhere(value);
    return structuredClone(this.kept);
  };
  elsewhere(value: Doc) {
    this.kept = { value, version: String(Number(this.kept.version) + 1) };
  }
}

let server: Server;
let shown: Doc[];
const keyed = { list: "id" };
const opened = () =>
  new DocumentStore<Doc>(structuredClone(server.kept), {
    get: server.get,
    put: server.put,
    show: (v) => shown.push(v),
    keyed,
  });

beforeEach(() => {
  vi.useFakeTimers();
  server = new Server();
  shown = [];
});
afterEach(() => vi.useRealTimers());

it("keeps the latest of quick changes, once", async () => {
  const store = opened();
  for (const a of [2, 3, 4]) store.set({ a, b: 1 });
  expect(store.save.at).toBe("saving");
  await vi.advanceTimersByTimeAsync(SAVE_AFTER_MS);
  expect(server.puts).toEqual([{ a: 4, b: 1 }]);
  expect(store.save.at).toBe("saved");
});

it("has one on its way at a time: a slow older one never wins over a quick newer one", async () => {
  const store = opened();
  let go = () => {};
  server.slow.push((resolve) => {
    go = resolve;
  });
  store.set({ a: 2, b: 1 });
  await vi.advanceTimersByTimeAsync(SAVE_AFTER_MS);
  store.set({ a: 3, b: 1 });
  await vi.advanceTimersByTimeAsync(10 * SAVE_AFTER_MS);
  expect(server.puts).toHaveLength(1);
  expect(store.save.at).toBe("saving");
  go();
  await vi.advanceTimersByTimeAsync(SAVE_AFTER_MS);
  expect(server.kept.value.a).toBe(3);
  expect(store.save.at).toBe("saved");
});

it("sends again what found no server, and says so meanwhile", async () => {
  const store = opened();
  server.silent = true;
  store.set({ a: 2, b: 1 });
  await vi.advanceTimersByTimeAsync(SAVE_AFTER_MS);
  expect(store.save.at).toBe("failed");
  server.silent = false;
  await vi.advanceTimersByTimeAsync(RETRY_AFTER_MS);
  expect(server.kept.value.a).toBe(2);
  expect(store.save.at).toBe("saved");
});

it("says why something is refused, and does not send it again", async () => {
  const store = opened();
  server.refuses = "Amps must be above zero.";
  store.set({ a: -1, b: 1 });
  await vi.advanceTimersByTimeAsync(10 * RETRY_AFTER_MS);
  expect(store.save).toMatchObject({ at: "failed", why: "Amps must be above zero." });
  expect(server.puts).toHaveLength(1);
});

it("merges what was changed elsewhere in other figures, unasked", async () => {
  const store = opened();
  server.elsewhere({ a: 1, b: 7 });
  store.set({ a: 2, b: 1 });
  await vi.advanceTimersByTimeAsync(3 * SAVE_AFTER_MS);
  expect(server.kept.value).toEqual({ a: 2, b: 7 });
  expect(shown.at(-1)).toEqual({ a: 2, b: 7 });
  expect(store.save.at).toBe("saved");
});

it.each([
  ["mine", 2],
  ["theirs", 9],
] as const)("asks where both changed the same figure: %s", async (whose, a) => {
  const store = opened();
  server.elsewhere({ a: 9, b: 7 });
  store.set({ a: 2, b: 1 });
  await vi.advanceTimersByTimeAsync(3 * SAVE_AFTER_MS);
  expect(store.save).toEqual({ at: "asked", clashes: [{ path: "a", mine: 2, theirs: 9 }] });
  await vi.advanceTimersByTimeAsync(10 * RETRY_AFTER_MS);
  expect(server.kept.value).toEqual({ a: 9, b: 7 }); // nothing is overwritten meanwhile
  await store.choose(whose);
  await vi.advanceTimersByTimeAsync(SAVE_AFTER_MS);
  expect(server.kept.value).toEqual({ a, b: 7 });
  expect(shown.at(-1)).toEqual({ a, b: 7 });
  expect(store.save.at).toBe("saved");
});

it("flushes at once when the page goes", async () => {
  const store = opened();
  store.set({ a: 2, b: 1 });
  await store.flush();
  expect(server.kept.value.a).toBe(2);
});

it("three who change one document at random lose nothing without being asked", async () => {
  let seed = 7;
  const random = (n: number) => {
    seed = (seed * 48271) % 2147483647;
    return seed % n;
  };
  const own: Doc[] = [];
  const clients = [0, 1, 2].map((k) => {
    own[k] = structuredClone(server.kept.value);
    return new DocumentStore<Doc>(structuredClone(server.kept), {
      get: server.get,
      put: server.put,
      show: (v) => {
        own[k] = v;
      },
      keyed,
    });
  });
  let asked = 0;
  for (let round = 0; round < 2000; round++) {
    const k = random(3);
    const store = clients[k] as DocumentStore<Doc>;
    if (store.save.at === "asked") {
      asked++;
      await store.choose(random(2) === 0 ? "mine" : "theirs");
    }
    server.silent = random(10) === 0;
    const doc = own[k] as Doc;
    store.set(random(2) === 0 ? { ...doc, a: round } : { ...doc, b: round });
    await vi.advanceTimersByTimeAsync(random(2 * SAVE_AFTER_MS));
  }
  server.silent = false;
  for (let pass = 0; pass < 6; pass++)
    for (const store of clients) {
      await vi.advanceTimersByTimeAsync(2 * RETRY_AFTER_MS);
      if (store.save.at === "asked") await store.choose("mine");
    }
  await vi.advanceTimersByTimeAsync(4 * RETRY_AFTER_MS);
  expect(asked).toBeGreaterThan(0);
  expect(clients.map((c) => c.save.at)).toEqual(["saved", "saved", "saved"]);
  // whoever writes next writes upon the server's truth
  for (const k of [0, 1, 2]) {
    const now = await server.get();
    clients[k]?.seen(now);
    own[k] = now.value;
    clients[k]?.set({ ...now.value, a: -k - 1 });
    await vi.advanceTimersByTimeAsync(SAVE_AFTER_MS);
    expect(server.kept.value).toEqual({ ...now.value, a: -k - 1 });
  }
});

it("merges lists of named things thing by thing", () => {
  const of = (...ns: [string, number][]) => ({ list: ns.map(([id, n]) => ({ id, n })) });
  const merged = merge(of(["x", 1], ["y", 1]), of(["x", 2], ["y", 1], ["z", 1]), of(["y", 3]), keyed);
  // x was changed here and removed there: asked; y is theirs, z is mine
  expect(merged.value).toEqual(of(["x", 2], ["y", 3], ["z", 1]));
  expect(merged.clashes.map((c) => c.path)).toEqual(["list.x"]);
  expect(merge(of(["x", 1], ["y", 1]), of(["y", 1]), of(["x", 1], ["y", 2]), keyed)).toEqual({
    value: of(["y", 2]),
    clashes: [],
  });
});
