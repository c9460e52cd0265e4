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
