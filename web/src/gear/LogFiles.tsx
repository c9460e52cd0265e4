import { useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { wordsOf } from "@/api/problem";
import type { LogReport } from "@/api/types";
import { touched } from "@/app/act";
import { notify } from "@/app/notices";
import { takeLog } from "@/gear/queries";

type State =
  | { at: "idle" | "busy" }
  | { at: "wrong"; why: string }
  | { at: "seen"; file: File; report: LogReport };

/** The log out as JSON and CSV, and in: what a file would add is said before it is added. */
export function LogFiles() {
  const queries = useQueryClient();
  const id = useId();
  const [state, setState] = useState<State>({ at: "idle" });
  const take = async (file: File, store: boolean) => {
    setState({ at: "busy" });
    try {
      const report = await takeLog(file, store);
      if (!store) {
        setState({ at: "seen", file, report });
        return;
      }
      setState({ at: "idle" });
      touched(queries, "gear");
      notify(`Added to the log: ${counted(report)}`);
    } catch (problem) {
      const why = wordsOf(problem, "It could not be read.");
      setState({ at: "wrong", why });
    }
  };
  return (
    <section aria-label="The log">
      <h3 className="heading mb-1">The log: all that was done to each pack, read and said of it</h3>
      <p className="flex flex-wrap gap-x-6 gap-y-1">
        <a className="action" href="/api/keep/log.json" download>
          Log as JSON
        </a>
        <a className="action" href="/api/keep/runs.csv" download>
          Runs as CSV
        </a>
        <a className="action" href="/api/keep/life.csv" download>
          Lives as CSV
        </a>
        <label htmlFor={id} className="action cursor-pointer focus-within:outline-2">
          Bring a log in…
          <input
            id={id}
            type="file"
            accept=".json,application/json"
            className="sr-only"
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file) void take(file, false);
              e.target.value = "";
            }}
          />
        </label>
      </p>
      <div aria-live="polite">
        {state.at === "busy" && (
          <p className="mt-2" aria-busy="true">
            Reading…
          </p>
        )}
        {state.at === "wrong" && (
          <p role="alert" className="mt-2 border-l-4 border-alert pl-3">
            {state.why} Nothing was stored.
          </p>
        )}
        {state.at === "seen" && (
          <p className="mt-2">
            <span className="font-semibold">{state.file.name}</span>: {counted(state.report)} new,{" "}
            {state.report.same} there already.{" "}
            {total(state.report) > 0 ? (
              <button type="button" className="primary ml-2" onClick={() => void take(state.file, true)}>
                Add {total(state.report)}
              </button>
            ) : (
              "Everything in it is stored already."
            )}
          </p>
        )}
      </div>
    </section>
  );
}

function total(report: LogReport): number {
  return report.events;
}

function counted(report: LogReport): string {
  return `${report.events} event${report.events === 1 ? "" : "s"}`;
}
