import { useState } from "react";
import type { Landing, RunAsk, RunPack } from "@/api/types";
import { notify } from "@/app/notices";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { readTyped } from "@/format/typed";
import { addToRun } from "@/stages/run/queue";
import { type Draft, Field, NOTHING, RunDetails, readDetails, saysSomething } from "@/stages/run/RunDetails";

export type LandedRun = { run: RunAsk; landing: Landing };

type Props = {
  landed: LandedRun;
  of: RunPack | undefined;
  onSent: () => void;
  onUndo: () => void;
  onDone: () => void;
};

/** A run that was logged with one press: what to do now where something was wrong, and what else is known. */
export function Landed({ landed: { run, landing }, of, onSent, onUndo, onDone }: Props) {
  const p = usePreferences();
  const timed = String(run.minutes);
  const [minutes, setMinutes] = useState(timed);
  const [draft, setDraft] = useState<Draft>(NOTHING);
  const more = saysSomething(draft) || minutes.trim() !== timed;
  const [wrong, setWrong] = useState<string | undefined>();
  const add = () => {
    const took = readTyped(minutes, "min");
    if ("problem" in took) return setWrong(took.problem);
    if (!(took.value > 0)) return setWrong("How many minutes did it run?");
    const read = readDetails(draft, of, p);
    setWrong(read.wrong);
    if (!read.more) return;
    addToRun(run, { ...read.more, minutes: took.value === run.minutes ? null : took.value }, onSent);
    notify(`Kept with the run of ${run.pack}.`);
    onDone();
  };
  return (
    <section aria-label="Landed" className="mt-4 border-t pt-3">
      <p className="flex flex-wrap items-baseline gap-x-3" role="status">
        <span className="text-lead font-semibold">
          Logged: {run.pack}, {worded("minutes", run.minutes, p)}
          {landing.todo.length > 0 && `, ${landing.name.toLowerCase()}`}
        </span>
        <button type="button" className="action" onClick={onUndo}>
          Undo
        </button>
      </p>
      {landing.todo.length === 0 ? (
        <p className="text-plain text-ink-soft">Let it cool before it is charged.</p>
      ) : (
        <div role="alert" className="mt-2 border-l-8 border-alert py-1 pl-3">
          <h2 className="font-semibold text-alert">Now</h2>
          <ol className="list-decimal space-y-1 pl-5">
            {landing.todo.map((step) => (
              <li key={step}>{step}</li>
            ))}
          </ol>
        </div>
      )}
      <form
        aria-label="More of the run"
        onSubmit={(e) => {
          e.preventDefault();
          if (more) add();
          else onDone();
        }}
      >
        <Field label="Minutes" value={minutes} onChange={setMinutes} />
        <RunDetails draft={draft} onChange={setDraft} />
        {wrong && (
          <p role="alert" className="mt-1 text-plain text-alert">
            {wrong}
          </p>
        )}
        <button type="submit" className="control mt-3 min-h-11 w-full text-lead">
          {more ? "Keep it with the run" : "Done"}
        </button>
      </form>
    </section>
  );
}
