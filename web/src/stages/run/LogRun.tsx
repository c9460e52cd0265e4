import { useEffect, useState } from "react";
import { wordsOf } from "@/api/problem";
import { notify } from "@/app/notices";
import { takeRunAway } from "@/stages/run/queries";
import { drop, logRun, useWaiting, waits } from "@/stages/run/queue";

type Props = {
  model: string;
  pack: string;
  minutes: number | undefined;
  /** It is kept here, sent or not. */
  onTaken: () => void;
  /** The server has it. */
  onSent: () => void;
};

/** Minutes, and what is known of the landing; kept here until the server has it. */
export function LogRun({ model, pack, minutes, onTaken, onSent }: Props) {
  const [typed, setTyped] = useState({ minutes: "", mah: "", volts: "" });
  const [wrong, setWrong] = useState<string | undefined>();
  useEffect(() => {
    if (minutes !== undefined) setTyped((old) => ({ ...old, minutes: String(minutes) }));
  }, [minutes]);
  const log = () => {
    const values = { minutes: number(typed.minutes), mah: number(typed.mah), volts: number(typed.volts) };
    if (values.minutes === undefined || !(values.minutes > 0)) {
      setWrong("How many minutes did it run?");
      return;
    }
    if ((typed.mah && values.mah === undefined) || (typed.volts && values.volts === undefined)) {
      setWrong("This is not a number.");
      return;
    }
    setWrong(undefined);
    const key = logRun(
      {
        model,
        pack,
        at: new Date().toISOString(),
        minutes: values.minutes,
        put_back_mah: values.mah ?? null,
        landing_cell_v: values.volts ?? null,
        note: "",
      },
      onSent,
    );
    setTyped({ minutes: "", mah: "", volts: "" });
    onTaken();
    notify(`Logged: ${pack}, ${values.minutes} min. Let it cool before it is charged.`, {
      act: { name: "Undo", run: () => void undo(key) },
    });
  };
  const undo = async (key: string) => {
    const unsent = waits(key);
    drop(key);
    try {
      if (!unsent) await takeRunAway(key);
      onSent();
    } catch (problem) {
      notify(wordsOf(problem, "It could not be taken back."), {
        wrong: true,
      });
    }
  };
  return (
    <section aria-label="Log the run" className="mt-4 border-t pt-3">
      <div className="grid grid-cols-3 gap-3">
        <Field label="Minutes" value={typed.minutes} onChange={(v) => setTyped({ ...typed, minutes: v })} />
        <Field
          label="Landed at, V a cell"
          value={typed.volts}
          onChange={(v) => setTyped({ ...typed, volts: v })}
        />
        <Field label="Put back, mAh" value={typed.mah} onChange={(v) => setTyped({ ...typed, mah: v })} />
      </div>
      <p className="mt-1 text-[11.5px] text-ink-faint">
        Volts at rest, some minutes after landing. What a charge puts back can be added later.
      </p>
      {wrong && (
        <p role="alert" className="mt-1 text-[13px] text-alert">
          {wrong}
        </p>
      )}
      <button type="button" className="control mt-3 min-h-11 w-full text-[15px]" onClick={log}>
        Log it
      </button>
      <WaitingRuns />
    </section>
  );
}

function WaitingRuns() {
  const waiting = useWaiting();
  if (waiting.length === 0) return null;
  const unsent = waiting.filter((w) => !w.refused).length;
  return (
    <div className="mt-2 text-[13px]" aria-live="polite">
      {unsent > 0 && (
        <p className="text-ink-soft">
          {unsent} run{unsent === 1 ? " waits" : "s wait"} here to be sent; nothing is lost.
        </p>
      )}
      {waiting
        .filter((w) => w.refused)
        .map((w) => (
          <p key={w.run.key} className="text-alert">
            {w.run.pack}, {w.run.minutes} min was refused: {w.refused}{" "}
            <button type="button" className="action" onClick={() => drop(w.run.key)}>
              Drop it
            </button>
          </p>
        ))}
    </div>
  );
}

function Field({ label, value, onChange }: { label: string; value: string; onChange: (v: string) => void }) {
  return (
    <label className="grid text-xs text-ink-faint">
      {label}
      <input
        inputMode="decimal"
        autoComplete="off"
        className="number w-full min-w-0 border-b border-rule-strong bg-transparent py-1.5 text-[17px] text-ink outline-none focus:border-fjord"
        value={value}
        onChange={(e) => onChange(e.target.value)}
      />
    </label>
  );
}

function number(text: string): number | undefined {
  const plain = text.trim().replace(",", ".");
  return /^\d+(\.\d+)?$/.test(plain) ? Number(plain) : undefined;
}
