import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { wordsOf } from "@/api/problem";
import type { GearKind, ImportReport } from "@/api/types";
import { touched } from "@/app/act";
import { notify } from "@/app/notices";
import { GEAR } from "@/gear/fields";
import { LogFiles } from "@/gear/LogFiles";
import { importProgress, previewImport, runImport, stopImport, tellChange } from "@/gear/queries";
import { Sheet } from "@/parts/Sheet";

type Props = { kind: GearKind; onClose: () => void };
type State =
  | { at: "choose" }
  | { at: "busy"; what: "checking" | "importing"; token: string }
  | { at: "preview"; file: File; report: ImportReport }
  | { at: "failed"; why: string };

const CSV_KINDS: GearKind[] = ["packs", "catalogue", "cells", "chargers", "supplies", "pieces", "plugs"];

/** Files in and out. An import is shown first, row by row; it is all or nothing, and can be undone. */
export function ImportSheet({ kind, onClose }: Props) {
  const csv = CSV_KINDS.includes(kind);
  const queries = useQueryClient();
  const [state, setState] = useState<State>({ at: "choose" });
  const fileId = useId();
  const failed = (problem: unknown) =>
    setState({
      at: "failed",
      why: wordsOf(problem, "It could not be read."),
    });
  const preview = async (file: File) => {
    const token = newToken();
    setState({ at: "busy", what: "checking", token });
    try {
      setState({ at: "preview", file, report: await previewImport(file, csv ? kind : "packs", token) });
    } catch (problem) {
      failed(problem);
    }
  };
  const run = async (file: File) => {
    const token = newToken();
    setState({ at: "busy", what: "importing", token });
    try {
      const report = await runImport(file, csv ? kind : "packs", token);
      if (!report.change) {
        setState({ at: "preview", file, report });
        return;
      }
      touched(queries, "gear");
      tellChange(queries, report.change);
      onClose();
    } catch (problem) {
      failed(problem);
    }
  };
  return (
    <Sheet
      open
      onClose={onClose}
      title="Import, export"
      wide
      loses={state.at === "preview" ? "the preview of the file you chose" : undefined}
    >
      <div className="space-y-6 px-5 py-4">
        <section aria-label="Import">
          <h3 className="heading mb-1">Bring in</h3>
          <p className="text-ink-soft">
            {csv ? `A CSV of ${GEAR[kind].many.toLowerCase()}, or a` : "A"} JSON file of everything. You see
            first what it would do; rows are matched by {kind === "packs" ? "tag" : "name"}, and nothing is
            deleted. Columns may be called as you call them, with your units.
          </p>
          {csv && (
            <p className="mt-1">
              <a className="action" href={`/api/files/templates/${kind}.csv`} download>
                A template with example rows
              </a>
            </p>
          )}
          <label htmlFor={fileId} className="control mt-3 inline-block cursor-pointer focus-within:outline-2">
            Choose a file…
            <input
              id={fileId}
              type="file"
              accept=".csv,.json,.txt,text/csv,application/json"
              className="sr-only"
              onChange={(e) => {
                const file = e.target.files?.[0];
                if (file) void preview(file);
                e.target.value = "";
              }}
            />
          </label>
          <div aria-live="polite">
            {state.at === "busy" && <Busy what={state.what} token={state.token} />}
            {state.at === "failed" && (
              <p role="alert" className="mt-3 border-l-4 border-alert pl-3">
                {state.why} Nothing was stored.
              </p>
            )}
            {state.at === "preview" && (
              <Report file={state.file} report={state.report} onRun={() => void run(state.file)} />
            )}
          </div>
        </section>
        <section aria-label="Export">
          <h3 className="heading mb-1">Take out</h3>
          <p className="flex flex-wrap gap-x-6 gap-y-1">
            <a className="action" href="/api/files/gear.json" download>
              Everything as JSON
            </a>
            {CSV_KINDS.map((k) => (
              <a key={k} className="action" href={`/api/files/${k}.csv`} download>
                {GEAR[k].many} as CSV
              </a>
            ))}
            <a className="action" href="/api/files/backup.sqlite3" download>
              Backup: everything, the log too
            </a>
            <a className="action" href="/api/files/gear.schema.json">
              JSON Schema of the format
            </a>
          </p>
        </section>
        <LogFiles />
      </div>
    </Sheet>
  );
}

function Report({ file, report, onRun }: { file: File; report: ImportReport; onRun: () => void }) {
  const bad = report.problem_count;
  const nothing = report.added + report.changed === 0;
  return (
    <div className="mt-4 border-t pt-3">
      <p>
        <span className="font-semibold">{file.name}</span>: {plural(report.rows, "row")}.{" "}
        {`${report.added} new, ${report.changed} changed, ${report.same} as stored`}
        {bad > 0 && <span className="font-semibold text-alert">, {plural(bad, "problem")}</span>}.
      </p>
      {report.notes?.map((words) => (
        <p key={words} className="mt-1 border-l-4 border-rule-strong pl-3 text-plain">
          {words}
        </p>
      ))}
      {bad > 0 ? (
        <>
          <p className="mt-1 text-ink-soft">
            It is all or nothing: mend these and choose the file again. Nothing was stored.
          </p>
          <div className="relative mt-2 max-h-64 overflow-auto">
            <table className="w-full text-left text-plain">
              <thead className="head [&_th]:pr-3">
                <tr>
                  <th scope="col">Where</th>
                  <th scope="col">Field</th>
                  <th scope="col">Why not</th>
                </tr>
              </thead>
              <tbody>
                {report.problems.map((p) => (
                  <tr key={`${p.place}${p.field}${p.message}`} className="border-b border-hollow align-top">
                    <td className="number whitespace-nowrap py-1 pr-3 text-small">{p.place}</td>
                    <td className="py-1 pr-3">{p.field}</td>
                    <td className="py-1">{p.message}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          {bad > report.problems.length && (
            <p className="mt-1 text-ink-faint">The first {report.problems.length}.</p>
          )}
        </>
      ) : (
        <>
          <ul className="mt-1 text-plain text-ink-soft">
            {report.samples.map((s) => (
              <li key={s}>{s}</li>
            ))}
            {report.added + report.changed > report.samples.length && (
              <li>and {report.added + report.changed - report.samples.length} more</li>
            )}
          </ul>
          {nothing ? (
            <p className="mt-2">Everything in it is stored already.</p>
          ) : (
            <button type="button" className="primary mt-3" onClick={onRun}>
              Import {plural(report.added + report.changed, "row")}
            </button>
          )}
        </>
      )}
    </div>
  );
}

function Busy({ what, token }: { what: "checking" | "importing"; token: string }) {
  const { data } = useQuery({
    queryKey: ["import-progress", token],
    queryFn: () => importProgress(token),
    refetchInterval: 150,
    gcTime: 0,
  });
  const share = data?.total ? data.done / data.total : 0;
  const stop = async () => {
    try {
      await stopImport(token);
    } catch {
      notify("It could not be stopped.", { wrong: true });
    }
  };
  return (
    <div className="mt-4" aria-busy="true">
      <p>
        {data?.phase === "storing" ? "Storing" : what === "checking" ? "Checking" : "Importing"}
        {data?.total ? ` row ${data.done} of ${data.total}` : ""}…
      </p>
      <progress
        className="mt-1 block h-2 w-full accent-fjord"
        max={1}
        value={share}
        aria-label="How far it is"
      />
      <button type="button" className="control mt-2 text-small" onClick={() => void stop()}>
        Stop
      </button>
    </div>
  );
}

function plural(count: number, word: string): string {
  return `${count} ${word}${count === 1 ? "" : "s"}`;
}

function newToken(): string {
  return crypto.getRandomValues(new Uint32Array(3)).join("-");
}
