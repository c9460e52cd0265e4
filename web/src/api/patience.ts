import { answersHeard } from "@/app/line";

/** Nobody waits longer for an answer; files, and a world that is opened, may take their time. */
const PATIENCE_MS = 10_000;
const SLOW_MS = 180_000;
const SLOW = /^\/api\/(files|draw|keep\/log|world)\//;
/** Asked by POST, and nothing is stored. */
const COMPUTES = [
  /^\/api\/(describe-|drawings|gear\/questions|labels|match|sizing|tomorrow\/plan)/,
  /^\/api\/(bench\/(curves|order|plan|sharing|storage)|run\/(day|go))$/,
];

/** A request that is given up after a while. What is read is waited for longer while the server answers other
 * questions: it is at work then, and asked again it would only have more to do. */
export async function patiently(request: Request): Promise<Response> {
  const { pathname } = new URL(request.url);
  const slow = SLOW.test(pathname);
  const reads = request.method === "GET" || COMPUTES.some((x) => x.test(pathname));
  const ends = new AbortController();
  let waits = reads && !slow ? SLOW_MS / PATIENCE_MS : 1;
  const wait = (ms: number) => {
    const before = answersHeard();
    AbortSignal.timeout(ms).addEventListener("abort", ({ target }) => {
      waits -= 1;
      if (waits > 0 && answersHeard() > before) wait(ms);
      else ends.abort((target as AbortSignal).reason);
    });
  };
  wait(slow ? SLOW_MS : PATIENCE_MS);
  try {
    return await fetch(request, { signal: AbortSignal.any([request.signal, ends.signal]) });
  } finally {
    // the rest of an answer that has begun comes soon, or not at all
    waits = 1;
  }
}
