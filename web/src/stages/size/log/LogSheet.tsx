import { useRef, useState } from "react";
import type { Job, Log, LogChosen } from "@/api/types";
import { notify } from "@/app/notices";
import { Sheet } from "@/parts/Sheet";
import { LogColumns } from "@/stages/size/log/LogColumns";
import { drawOf, LogFound } from "@/stages/size/log/LogFound";
import { readLog, rememberLog } from "@/stages/size/log/queries";
import { TeachPack } from "@/stages/size/log/TeachPack";

type Props = {
  motion: Job["motion"];
  airC: number;
  onClose: () => void;
  onUse: (draw: Partial<Job["draw"]>) => void;
};
type State =
  | { at: "empty" }
  | { at: "reading"; name: string }
  | { at: "failed"; name: string; why: string }
  | { at: "read"; file: File; log: Log; chosen?: LogChosen };

/**
 * A log is dropped or chosen, its columns are understood or said, what was found in it is shown, and
 * only then is it used. What was said of its columns is remembered for files that look alike.
 */
export function LogSheet({ motion, airC, onClose, onUse }: Props) {
  const [state, setState] = useState<State>({ at: "empty" });
  const [over, setOver] = useState(false);
  const take = async (file: File | undefined) => {
    if (!file) return;
    setState({ at: "reading", name: file.name });
    try {
      setState({ at: "read", file, log: await readLog(file, motion) });
    } catch (problem) {
      setState({ at: "failed", name: file.name, why: told(problem) });
    }
  };
  // choices may come faster than answers: what was chosen stands at once, and only the last answer counts
  const asked = useRef(0);
  const choose = async (file: File, before: Log, chosen: LogChosen) => {
    asked.current += 1;
    const mine = asked.current;
    setState({ at: "read", file, log: withChoice(before, chosen), chosen });
    try {
      const log = await readLog(file, motion, chosen);
      if (asked.current !== mine) return;
      setState({ at: "read", file, log, chosen });
      if (log.found) await rememberLog(log.shape, chosen);
    } catch (problem) {
      notify(told(problem), { wrong: true });
    }
  };
  return (
    <Sheet open onClose={onClose} title="Read a watt-meter log" wide>
      <div className="px-5 py-4">
        <label
          className={`block cursor-pointer border border-dashed border-rule-strong px-4 py-5 text-center
            focus-within:border-fjord ${over ? "bg-hollow" : ""}`}
          onDragOver={(e) => {
            e.preventDefault();
            setOver(true);
          }}
          onDragLeave={() => setOver(false)}
          onDrop={(e) => {
            e.preventDefault();
            setOver(false);
            void take(e.dataTransfer.files[0]);
          }}
        >
          <span className="font-semibold">Drop a CSV file here, or choose one.</span>
          <span className="block text-small text-ink-faint">
            Time, volts and amps are recognised under most names, with their units; what is not, you choose.
          </span>
          <input
            type="file"
            accept=".csv,.txt,.tsv,.log,text/csv"
            className="mx-auto mt-2 block text-small"
            aria-label="Watt-meter log file"
            onChange={(e) => void take(e.target.files?.[0])}
          />
        </label>
        <p className="mt-2 text-small text-ink-faint">
          None at hand?{" "}
          <a className="action" href={`${import.meta.env.BASE_URL}demo/ptarmigan-watt-meter.csv`} download>
            A simulated flight of Ptarmigan
          </a>{" "}
          shows how it looks.
        </p>
        <div aria-live="polite">
          {state.at === "reading" && <p className="mt-4 text-ink-faint">Reading {state.name}…</p>}
          {state.at === "failed" && (
            <p role="alert" className="mt-4 border-l-4 border-alert pl-3">
              <span className="font-semibold">{state.name}:</span> {state.why}
            </p>
          )}
          {state.at === "read" && (
            <>
              <LogColumns
                key={state.file.name}
                log={state.log}
                onChoose={(chosen) => void choose(state.file, state.log, chosen)}
              />
              {state.log.found && (
                <>
                  <LogFound
                    found={state.log.found}
                    delimiter={state.log.delimiter}
                    onUse={() => state.log.found && onUse(drawOf(state.log.found, state.file.name))}
                  />
                  <TeachPack key={state.file.name} file={state.file} chosen={state.chosen} airC={airC} />
                </>
              )}
            </>
          )}
        </div>
      </div>
    </Sheet>
  );
}

/** A log's columns as chosen, before the server has said what follows. */
function withChoice(log: Log, chosen: LogChosen): Log {
  const uses = new Map(chosen.uses.map((use) => [use.index, use]));
  return {
    ...log,
    columns: log.columns.map((c) => {
      const use = uses.get(c.index);
      return { ...c, quantity: use?.quantity ?? "", unit: use?.unit ?? "", given: use !== undefined };
    }),
    step_s: chosen.step_s,
    cells: chosen.cells,
    remembered: false,
    found: null,
  };
}

function told(problem: unknown): string {
  return problem instanceof Error ? problem.message : "It cannot be read.";
}
