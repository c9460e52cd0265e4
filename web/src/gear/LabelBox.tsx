import { useEffect, useRef, useState } from "react";
import { ApiProblem } from "@/api/problem";
import type { Label } from "@/api/types";
import { GEAR } from "@/gear/fields";
import { readLabel } from "@/gear/queries";
import { NumberField } from "@/parts/NumberField";
import { TextField } from "@/parts/TextField";

/** By field: the words it was read from, and what has to be asked of it. */
export type Said = { words: Record<string, string>; asked: Record<string, string> };

/** What was typed of a label; ``read`` once the fields below have it, so that they may be corrected. */
export type LabelTyped = {
  line: string;
  wires: number | null;
  volts: number | null;
  read: boolean;
  said: Said;
};

export const NO_LABEL: LabelTyped = {
  line: "",
  wires: null,
  volts: null,
  read: false,
  said: { words: {}, asked: {} },
};

/** ``given`` are the fields that the label itself names; the others are guesses. */
type Props = {
  typed: LabelTyped;
  onTyped: (typed: LabelTyped) => void;
  onRead: (values: Record<string, unknown>, given: string[], said: Said) => void;
};

const READ_AFTER_MS = 300;

/**
 * A label, typed or pasted as one line, read into the fields below; what contradicts what is said at once.
 */
export function LabelBox({ typed, onTyped, onRead }: Props) {
  const { line, wires, volts } = typed;
  const [label, setLabel] = useState<Label>();
  const [problem, setProblem] = useState<ApiProblem>();
  const tell = useRef(onRead);
  tell.current = onRead;
  const known = useRef(typed.read);
  known.current = typed.read;
  const type = (part: Partial<LabelTyped>) => onTyped({ ...typed, ...part, read: false });
  useEffect(() => {
    if (!line.trim() && wires === null) {
      setLabel(undefined);
      setProblem(undefined);
      return;
    }
    let stale = false;
    const timer = window.setTimeout(async () => {
      try {
        const read = await readLabel(line, wires, volts);
        if (stale) return;
        setLabel(read);
        setProblem(undefined);
        const said = { words: { ...read.words }, asked: { ...read.asked } };
        if (!known.current) tell.current(fieldsOf(read), Object.keys(read.values), said);
      } catch (failed) {
        if (!stale && failed instanceof ApiProblem) setProblem(failed);
      }
    }, READ_AFTER_MS);
    return () => {
      stale = true;
      window.clearTimeout(timer);
    };
  }, [line, wires, volts]);
  return (
    <section aria-label="From its label" className="mb-5 border-l-4 border-fjord bg-ground px-4 py-3">
      <TextField
        label="Its label, as one line"
        value={line}
        onChange={(text) => type({ line: text })}
        mono
        placeholder="5S 18.5V 3900mAh 40C/80C charge 3C"
        problem={problem?.fields.get("line")}
      />
      <div className="mt-1 grid gap-x-8 sm:grid-cols-2">
        <NumberField
          label="Wires in its balance plug"
          kind="count"
          step={1}
          optional
          placeholder="—"
          value={wires}
          onChange={(count) => type({ wires: count })}
          problem={problem?.fields.get("balance_wires")}
        />
        <NumberField
          label="Volts by a meter"
          kind="voltage"
          step={0.1}
          optional
          placeholder="—"
          value={volts}
          onChange={(v) => type({ volts: v })}
          problem={problem?.fields.get("measured_v")}
        />
      </div>
      <div aria-live="polite">{label && <Told label={label} />}</div>
    </section>
  );
}

function Told({ label }: { label: Label }) {
  const guesses = Object.entries(label.guesses).filter(([name]) => name in GUESSED);
  return (
    <ul className="mt-2 space-y-1 text-plain">
      {label.contradictions.map((words) => (
        <li key={words} className="border-l-4 border-alert pl-2 font-semibold">
          {words}
        </li>
      ))}
      {Object.values(label.asked).map((words) => (
        <li key={words} className="border-l-4 border-ink pl-2 font-medium">
          {words}
        </li>
      ))}
      {label.filled.map((words) => (
        <li key={words} className="pl-3 text-ink-soft">
          {words}
        </li>
      ))}
      {guesses.length > 0 && (
        <li className="pl-3 text-ink-soft">
          Guessed, to be checked: {guesses.map(([name, g]) => `${GUESSED[name]} (${g.words})`).join("; ")}.
        </li>
      )}
      {label.missing.length > 0 && (
        <li className="pl-3 text-ink-soft">Not on the label: {label.missing.join("; ")}.</li>
      )}
      {label.unread && <li className="pl-3 text-ink-faint">Not understood: “{label.unread}”.</li>}
    </ul>
  );
}

const GUESSED: Record<string, string> = { mass_g: "mass", plug: "plug", lead_awg: "leads" };

/** What the label gives and what is guessed, of the fields that a pack has. */
function fieldsOf(label: Label): Record<string, unknown> {
  const guessed = Object.entries(label.guesses).map(([name, guess]) => [name, guess.value] as const);
  const all = [...guessed, ...Object.entries(label.values)];
  return Object.fromEntries(all.filter(([name]) => name in GEAR.packs.start));
}
