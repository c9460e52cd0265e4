import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { RunAsk, RunPack } from "@/api/types";
import { usePreferences } from "@/format/preferences";
import { readTyped } from "@/format/typed";
import { OneOf } from "@/parts/OneOf";
import type { LandedRun } from "@/stages/run/Landed";
import { landingsQuery } from "@/stages/run/queries";
import { type Draft, Field, NOTHING, RunDetails, readDetails } from "@/stages/run/RunDetails";

type Props = {
  model: string;
  pack: string;
  /** What its volts can be; not known of a pack that is not listed. */
  of: RunPack | undefined;
  /** As they were read before it; empty if they were not. */
  cells: string;
  onLog: (run: Omit<RunAsk, "key">, landing: LandedRun["landing"]) => void;
};

/** A run that no timer counted: its minutes, how it ended, and what else is known. */
export function LogRun({ model, pack, of, cells, onLog }: Props) {
  const p = usePreferences();
  const { data: landings } = useQuery(landingsQuery);
  const [ended, setEnded] = useState(FINE.id);
  const [minutes, setMinutes] = useState("");
  const [draft, setDraft] = useState<Draft>(NOTHING);
  const [wrong, setWrong] = useState<string | undefined>();
  const log = () => {
    const read = minutes.trim() ? readTyped(minutes, "min") : undefined;
    if (!read || ("value" in read && !(read.value > 0))) return setWrong("How many minutes did it run?");
    if ("problem" in read) return setWrong(read.problem);
    const rest = readDetails(draft, of, p);
    setWrong(rest.wrong);
    if (!rest.more) return;
    const { at, minutes: _, ...more } = rest.more;
    const landing = landings?.find((l) => l.id === ended) ?? FINE;
    const run = { model, pack, cells, minutes: read.value, landing_cell_v: null, signs: landing.signs };
    const when = { at: at ?? new Date().toISOString(), hour_told: at != null };
    onLog({ ...run, ...more, ...when }, landing);
    setMinutes("");
    setDraft(NOTHING);
    setEnded(FINE.id);
  };
  return (
    <section aria-label="Log the run" className="mt-4 border-t pt-3">
      <Field label="Minutes" value={minutes} onChange={setMinutes} />
      {landings && (
        <div className="mt-2">
          <OneOf label="How it ended" value={ended} choices={landings} onChange={setEnded} />
        </div>
      )}
      <RunDetails draft={draft} onChange={setDraft} />
      {wrong && (
        <p role="alert" className="mt-1 text-plain text-alert">
          {wrong}
        </p>
      )}
      <button type="button" className="control mt-3 min-h-11 w-full text-lead" onClick={log}>
        Log it
      </button>
    </section>
  );
}

/** What is known without asking anybody. */
export const FINE: LandedRun["landing"] = { id: "fine", name: "Fine", signs: [], todo: [] };
