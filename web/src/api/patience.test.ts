import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { patiently } from "@/api/patience";
import { lineHolds } from "@/app/line";

let timeouts: AbortController[] = [];
let asked: AbortSignal[] = [];

/** Lets so many of the latest waits pass. */
const passes = () => timeouts.at(-1)?.abort(new DOMException("late", "TimeoutError"));

beforeEach(() => {
  timeouts = [];
  asked = [];
  vi.spyOn(AbortSignal, "timeout").mockImplementation(() => {
    const made = new AbortController();
    timeouts.push(made);
    return made.signal;
  });
  vi.stubGlobal("fetch", (_: Request, { signal }: { signal: AbortSignal }) => {
    asked.push(signal);
    return new Promise((_, reject) => signal.addEventListener("abort", () => reject(signal.reason)));
  });
});
afterEach(() => {
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

const read = (path: string, method = "GET") => patiently(new Request(`http://localhost${path}`, { method }));

test.each([
  ["/api/run/packs?model=stoat", "GET"],
  ["/api/match/grid", "POST"],
  ["/api/describe-equipment", "POST"],
])("%s is waited for while the server answers other questions", async (path, method) => {
  const grid = read(path, method);
  for (let k = 0; k < 3; k += 1) {
    lineHolds();
    passes();
  }
  expect(asked).toHaveLength(1);
  expect(asked[0]?.aborted).toBe(false);
  passes();
  await expect(grid).rejects.toThrow("late");
});

test("it is not waited for without end", async () => {
  const grid = read("/api/match/grid");
  for (let k = 0; k < 18; k += 1) {
    lineHolds();
    passes();
  }
  expect(timeouts).toHaveLength(18);
  await expect(grid).rejects.toThrow("late");
});

test("what is said is given up after one wait, to be sent again", async () => {
  const sent = read("/api/keep/packs/07/check", "POST");
  lineHolds();
  passes();
  await expect(sent).rejects.toThrow("late");
});

test("a question that is no longer asked ends at once", async () => {
  const left = new AbortController();
  const grid = patiently(new Request("http://localhost/api/match/grid", { signal: left.signal }));
  left.abort();
  await expect(grid).rejects.toThrow();
});
