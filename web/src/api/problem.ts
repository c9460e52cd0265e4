export type ProblemBody = { title: string; detail: string; errors: { field: string; message: string }[] };

/** An error of the API, with a sentence for each field it belongs to. */
export class ApiProblem extends Error {
  readonly status: number;
  readonly fields: ReadonlyMap<string, string>;

  constructor(status: number, body?: Partial<ProblemBody>) {
    super(body?.detail ?? "Something went wrong.");
    this.status = status;
    this.fields = new Map(
      (body?.errors ?? []).map((e) => [e.field.replace(/^(data\.)?(job\.)?/, ""), e.message]),
    );
  }
}

/** Whether a write was refused since it was made from an older version (412). */
export function isStale(problem: unknown): boolean {
  return problem instanceof ApiProblem && problem.status === 412;
}

/** Whether there is nothing to show: it is not there any more, or was never read. A line that is down is no
 *  reason to take away what was read. */
export function nothingOf(data: unknown, error: Error | null): error is Error {
  return error !== null && (data === undefined || (error instanceof ApiProblem && error.status === 404));
}

/** What went wrong, in words: the API's, or these for anything else. */
export function wordsOf(problem: unknown, otherwise: string): string {
  return problem instanceof ApiProblem ? problem.message : otherwise;
}

/** A sentence for each field; without any, these words under the empty name. */
export function fieldsOf(problem: unknown, otherwise: string): ReadonlyMap<string, string> {
  const fields = problem instanceof ApiProblem ? problem.fields : new Map<string, string>();
  return fields.size > 0 ? fields : new Map([["", otherwise]]);
}
