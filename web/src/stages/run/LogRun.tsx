import { useEffect, useState } from "react";
import type { RunAsk, RunPack } from "@/api/types";
import { notify } from "@/app/notices";
import { landedProblem } from "@/format/cells";
import { worded } from "@/format/quantity";
import { readTyped, type Typed } from "@/format/typed";
import { logRun, takeBack } from "@/stages/run/queue";

type Props = {
  model: string;
  pack: string;
  minutes: number | undefined;
  /** What its volts can be; not known of a pack that is not listed. */
  of: RunPack | undefined;
  /** As they were read before it; empty if they were not. */
  cells: string;
  /** It is kept here, sent or not; when it landed. */
  onTaken: (at: string) => void;
  onUndone: () => void;
  /** The server has it. */
  onSent: () => void;
};

/** Minutes, and what is known of the landing; kept here until the server has it. */
export function LogRun({ model, pack, of, minutes: timed, cells, onTaken, onUndone, onSent }: Props) {
  const [typed, setTyped] = useState({ minutes: "", mah: "", volts: "" });
  const [wrong, setWrong] = useState<string | undefined>();
  useEffect(() => {
    if (timed !== undefined) setTyped((old) => ({ ...old, minutes: String(timed) }));
  }, [timed]);
  const log = () => {
    const read = {
      minutes: readTyped(typed.minutes, "min"),
      mah: typed.mah.trim() ? readTyped(typed.mah, "mAh") : undefined,
    };
    const minutes = numberOf(read.minutes);
    if (typed.minutes.trim() === "" || !((minutes ?? 1) > 0)) {
      setWrong("How many minutes did it run?");
      return;
    }
    const refused = [read.minutes, read.mah].find((x) => x && "problem" in x);
    if (minutes === undefined || (refused && "problem" in refused)) {
      setWrong(refused && "problem" in refused ? refused.problem : "How many minutes did it run?");
      return;
    }
    const odd = of && typed.volts.trim() ? landedProblem(typed.volts, of.series, of.highest_v) : undefined;
    if (odd) {
      setWrong(odd);
      return;
    }
    setWrong(undefined);
    const at = new Date().toISOString();
    const run = {
      model,
      pack,
      at,
      minutes,
      put_back_mah: numberOf(read.mah) ?? null,
      landing_cell_v: null,
      landed: typed.volts.trim(),
      note: "",
      cells,
    };
    const key = logRun(run, onSent);
    setTyped({ minutes: "", mah: "", volts: "" });
    onTaken(at);
    notify(`Logged: ${pack}, ${worded("minutes", minutes)}. Let it cool before it is charged.`, {
      act: { name: "Undo", run: () => void undo({ ...run, key }) },
    });
  };
  const undo = async (run: RunAsk) => {
    onUndone();
    await takeBack(run, onSent);
    onSent();
  };
  return (
    <section aria-label="Log the run" className="mt-4 border-t pt-3">
      <div className="grid grid-cols-3 gap-3">
        <Field label="Minutes" value={typed.minutes} onChange={(v) => setTyped({ ...typed, minutes: v })} />
        <Field
          label="Landed at, volts"
          value={typed.volts}
          onChange={(v) => setTyped({ ...typed, volts: v })}
        />
        <Field label="Put back, mAh" value={typed.mah} onChange={(v) => setTyped({ ...typed, mah: v })} />
      </div>
      <p className="mt-1 text-fine text-ink-faint">
        Volts at rest, some minutes after landing: of a cell, or of the whole pack. What a charge puts back
        can be added later.
      </p>
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

function Field({ label, value, onChange }: { label: string; value: string; onChange: (v: string) => void }) {
  return (
    <label className="grid text-small text-ink-faint">
      {label}
      <input
        inputMode="decimal"
        autoComplete="off"
        className="number field w-full min-w-0 py-1.5 text-lead text-ink"
        value={value}
        onChange={(e) => onChange(e.target.value)}
      />
    </label>
  );
}

function numberOf(read: Typed | undefined): number | undefined {
  return read && "value" in read ? read.value : undefined;
}
