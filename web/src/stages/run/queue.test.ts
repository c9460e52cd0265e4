// @vitest-environment happy-dom
import { afterEach, beforeEach, expect, it, vi } from "vitest";

/** A server that is there or not, and what it was sent. */
let line: "up" | "down" | "lost" | number = "up";
let sent: string[] = [];
let has = new Set<string>();
/** Set to hold the next answer back. */
let hold: Promise<void> | undefined;

vi.stubGlobal("fetch", async (request: Request) => {
  if (line === "down") throw new TypeError("no line");
  if (request.method === "DELETE") {
    const key = request.url.split("/").at(-1) ?? "";
    return has.delete(key) ? Response.json({}) : Response.json({ detail: "Not there." }, { status: 404 });
  }
  const run = (await request.json()) as { key: string };
  const problem = { title: "No", detail: "This pack is not there.", errors: [] };
  if (typeof line === "number") return new Response(JSON.stringify(problem), { status: line });
  sent.push(run.key);
  has.add(run.key);
  await hold;
  // it got there, and its answer did not
  if (line === "lost") throw new TypeError("no line");
  return new Response(JSON.stringify({ id: sent.length }), { status: 201 });
});

const RUN = {
  model: "mine",
  pack: "01",
  at: "2026-11-25T14:00:00Z",
  minutes: 9,
  put_back_mah: null,
  landing_cell_v: null,
  temperature_c: null,
  note: "",
};
const KEPT = "cold-stack.to-send";
const kept = () => JSON.parse(localStorage.getItem(KEPT) ?? "[]") as { refused?: string }[];
const onSent = vi.fn();

async function queue() {
  vi.resetModules();
  return { ...(await import("@/app/outbox")), ...(await import("@/stages/run/queue")) };
}

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal("location", new URL("http://127.0.0.1:8600/"));
  localStorage.clear();
  line = "up";
  sent = [];
  has = new Set();
  hold = undefined;
  onSent.mockClear();
});
afterEach(() => void vi.useRealTimers());

it("sends a run at once, and keeps it no longer", async () => {
  const { logRun, waits } = await queue();
  const key = logRun(RUN, onSent);
  expect(waits(key)).toBe(true);
  await vi.advanceTimersByTimeAsync(0);
  await vi.waitFor(() => expect(onSent).toHaveBeenCalledOnce());
  expect(sent).toEqual([key]);
  expect(waits(key)).toBe(false);
  expect(kept()).toEqual([]);
});

it("keeps runs without a line, through a reload, and sends each once when the line is back", async () => {
  line = "down";
  const before = await queue();
  const keys = [before.logRun(RUN, onSent), before.logRun({ ...RUN, minutes: 10 }, onSent)];
  await vi.advanceTimersByTimeAsync(12_000);
  expect(sent).toEqual([]);
  expect(kept()).toHaveLength(2);
  const { send } = await queue();
  line = "up";
  await send(onSent);
  expect([...new Set(sent)].sort()).toEqual([...keys].sort());
  expect(kept()).toEqual([]);
});

it("tries again by itself", async () => {
  line = "down";
  const { logRun } = await queue();
  logRun(RUN, onSent);
  await vi.advanceTimersByTimeAsync(1000);
  line = "up";
  await vi.advanceTimersByTimeAsync(5000);
  expect(sent).toHaveLength(1);
});

it("marks a refused run with the server's words, and lets the next one through", async () => {
  line = 422;
  const { logRun, send } = await queue();
  logRun(RUN, onSent);
  await vi.advanceTimersByTimeAsync(0);
  expect(kept()[0]?.refused).toBe("This pack is not there.");
  line = "up";
  const next = logRun(RUN, onSent);
  await send(onSent);
  await vi.advanceTimersByTimeAsync(0);
  expect(sent).toEqual([next]);
  expect(kept()).toHaveLength(1);
});

it("waits, and is not refused, where the page is older than the server", async () => {
  line = 403;
  const { logRun } = await queue();
  logRun(RUN, onSent);
  await vi.advanceTimersByTimeAsync(0);
  expect(kept()[0]?.refused).toBeUndefined();
});

it("takes back what is on its way, when it has got there", async () => {
  let go = () => {};
  hold = new Promise((resolve) => {
    go = resolve;
  });
  const { logRun, takeBack } = await queue();
  const key = logRun(RUN, onSent);
  await vi.advanceTimersByTimeAsync(0);
  expect(has).toEqual(new Set([key]));
  const back = takeBack({ ...RUN, key }, onSent);
  go();
  await back;
  await vi.advanceTimersByTimeAsync(6000);
  expect(has.size).toBe(0);
  expect(kept()).toEqual([]);
});

it("takes back what got there though no answer came, as soon as there is a line", async () => {
  line = "lost";
  const { logRun, takeBack } = await queue();
  const key = logRun(RUN, onSent);
  await vi.advanceTimersByTimeAsync(0);
  line = "down";
  await takeBack({ ...RUN, key }, onSent);
  expect(has.size).toBe(1);
  line = "up";
  await vi.advanceTimersByTimeAsync(6000);
  expect(has.size).toBe(0);
  expect(kept()).toEqual([]);
});

it("takes back what was never sent without asking anybody", async () => {
  const { drop, logRun, takeBack } = await queue();
  line = "down";
  const first = logRun(RUN, onSent);
  const key = logRun(RUN, onSent);
  await takeBack({ ...RUN, key }, onSent);
  drop(first);
  line = "up";
  await vi.advanceTimersByTimeAsync(12_000);
  expect(sent).toEqual([]);
});

it("loses nothing of what another tab keeps", async () => {
  line = "down";
  const mine = await queue();
  const theirs = await queue();
  const keys = [mine.logRun(RUN, onSent), theirs.logRun(RUN, onSent), mine.logRun(RUN, onSent)];
  expect(kept()).toHaveLength(3);
  line = "up";
  await vi.advanceTimersByTimeAsync(12_000);
  expect(has).toEqual(new Set(keys));
  expect(kept()).toEqual([]);
});
