import createClient from "openapi-fetch";
import { patiently } from "@/api/patience";
import { ApiProblem, type ProblemBody } from "@/api/problem";
import type { paths } from "@/api/schema";
import { forgetReads, KEPT_AT } from "@/app/keptReads";
import { keptInstead, lineHolds, lineLost } from "@/app/line";
import { inReaderUnits } from "@/format/sentence";

function csrfToken(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? "";
}

export const client = createClient<paths>({ baseUrl: "/", fetch: patiently });

client.use({
  onRequest({ request }) {
    if (request.method !== "GET") {
      request.headers.set("X-CSRFToken", csrfToken());
      // what is said with an hour is kept at the hour of the server's clock, whatever this one shows
      request.headers.set("X-Clock", String(Date.now()));
    }
    return request;
  },
  onResponse({ response }) {
    const kept = response.headers.get(KEPT_AT);
    if (kept) keptInstead(Date.parse(kept));
    else lineHolds();
  },
});

type Reply<T> = { data?: T; error?: unknown; response: Response };

/** The reply's data, or an ApiProblem thrown: one path for every error of server and line. */
export async function answered<T>(call: Promise<Reply<T>>): Promise<T> {
  let reply: Reply<T>;
  try {
    reply = await call;
  } catch (cause) {
    if (cause instanceof DOMException && cause.name === "AbortError") throw cause;
    lineLost();
    throw new ApiProblem(0, {
      title: "No answer",
      detail: "The server does not answer. Is Cold Stack still running?",
      errors: [],
    });
  }
  if (reply.data !== undefined && reply.response.ok) return inReaderUnits(reply.data);
  // this device is not paired, or no longer: there is one page for it
  if (reply.response.status === 401) void forgetReads().then(() => window.location.assign("/pair"));
  throw new ApiProblem(reply.response.status, inReaderUnits(reply.error) as Partial<ProblemBody> | undefined);
}
