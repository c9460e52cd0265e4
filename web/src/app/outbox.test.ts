// @vitest-environment happy-dom
import { afterEach, beforeEach, expect, it, vi } from "vitest";

/** A server with a log by keys, that is there or not; `lost` gets what is sent and answers nothing. */
let line: "up" | "down" | "lost" | number = "up";
let log = new Map<string, { path: string; body: Record<string, unknown>; event: number; gone: boolean }>();

vi.stubGlobal("fetch", async (request: Request) => {
  if (line === "down") throw new TypeError("no line");
  const body = (await request.json()) as Record<string, unknown> & { key: string; events?: number[] };
  const path = new URL(request.url).pathname;
  if (typeof line === "number")
    return new Response(JSON.stringify({ title: "No", detail: "No such pack.", errors: [] }), {
      status: line,
    });
  if (path.endsWith("take-back")) {
    for (const kept of log.values()) if (body.events?.includes(kept.event)) kept.gone = true;
    return Response.json({ events: body.events, label: "back" });
  }
  const kept = log.get(body.key) ?? { path, body, event: log.size + 1, gone: false };
  log.set(body.key, kept);
  if (line === "lost") throw new TypeError("no line");
  return Response.json(
    path.endsWith("notes") ? { id: kept.event, text: "x" } : { events: [kept.event], label: "said" },
  );
});

const onSent = vi.fn();
const LOOK = { tag: "04", signs: ["dent"], at_room: false, temperature_c: null };

async function outbox() {
  vi.resetModules();
  return import("@/app/outbox");
}

beforeEach(() => {
  vi.useFakeTimers({ now: Date.parse("2026-11-25T14:00:00Z") });
  vi.stubGlobal("location", new URL("http://127.0.0.1:8600/"));
  localStorage.clear();
  line = "up";
  log = new Map();
  onSent.mockClear();
});
afterEach(() => void vi.useRealTimers());

it("says it at once where there is a line, as of now", async () => {
  const { sayOrKeep, waits } = await outbox();
  const said = await sayOrKeep("look", "key-00000001", "a look", LOOK);
  expect(said).toEqual({ events: [1], label: "said" });
  expect(log.get("key-00000001")?.body).toMatchObject({ signs: ["dent"], at: null });
  expect(waits("key-00000001")).toBe(false);
});

it("keeps all kinds without a line, and sends each with the hour it was said at", async () => {
  const { sayOrKeep, send } = await outbox();
  line = "down";
  await sayOrKeep("note", "key-00000001", "a note", { tag: "04", text: "Dropped." });
  const check = { cells: "3.8", mohm: "", temperature_c: null, put_in_mah: null, balance_min: null };
  await sayOrKeep("check", "key-00000002", "a check", { tag: "04/a", ...check });
  await sayOrKeep("look", "key-00000003", "a look", LOOK);
  await sayOrKeep("left", "key-00000004", "a state", { packs: ["04"], state: "spent" });
  await vi.advanceTimersByTimeAsync(3_600_000);
  expect(log.size).toBe(0);
  line = "up";
  await send(onSent);
  expect([...log.values()].map((x) => x.path)).toEqual([
    "/api/keep/packs/04/notes",
    "/api/keep/packs/04%2Fa/checks",
    "/api/keep/packs/04/looks",
    "/api/keep/left",
  ]);
  for (const { body } of log.values()) expect(body.at).toBe("2026-11-25T14:00:00.000Z");
  expect(onSent).toHaveBeenCalledTimes(4);
});

it("keeps it once, though the first answer was lost", async () => {
  const { sayOrKeep, send, waits } = await outbox();
  line = "lost";
  await sayOrKeep("look", "key-00000001", "a look", LOOK);
  expect(waits("key-00000001")).toBe(true);
  line = "up";
  await send(onSent);
  expect(log.size).toBe(1);
  expect(waits("key-00000001")).toBe(false);
});

it("takes back what may have got there, and only there", async () => {
  const { sayOrKeep, takeBackKey } = await outbox();
  line = "lost";
  await sayOrKeep("look", "key-00000001", "a look", LOOK);
  await sayOrKeep("note", "key-00000002", "a note", { tag: "04", text: "x" });
  line = "down";
  await takeBackKey("key-00000001", onSent);
  line = "up";
  await vi.advanceTimersByTimeAsync(6000);
  expect([...log.values()].map((x) => x.gone)).toEqual([true, false]);
});

it("throws what the server refuses, and marks what it refuses later, with its words", async () => {
  const { sayOrKeep, send, useOutbox: _ } = await outbox();
  line = 422;
  await expect(sayOrKeep("look", "key-00000001", "a look", LOOK)).rejects.toThrow("No such pack.");
  line = "down";
  await sayOrKeep("look", "key-00000002", "a look", LOOK);
  line = 422;
  await send(onSent);
  const kept = JSON.parse(localStorage.getItem("cold-stack.to-send") ?? "[]") as { refused?: string }[];
  expect(kept.map((w) => w.refused)).toEqual(["No such pack."]);
});

it("takes over what an older page kept", async () => {
  const run = { key: "key-00000001", model: "mine", pack: "01", at: "2026-11-24T10:00:00Z", minutes: 9 };
  localStorage.setItem("cold-stack.runs-to-send", JSON.stringify([{ run, refused: "No." }]));
  const { waits, drop } = await outbox();
  expect(waits("key-00000001")).toBe(true);
  drop("key-00000001");
  expect((await outbox()).waits("key-00000001")).toBe(false);
});
