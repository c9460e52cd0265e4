import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { fieldsOf } from "@/api/problem";
import type { PackPage } from "@/api/types";
import { newKey } from "@/app/outbox";
import { bare } from "@/format/quantity";
import { say } from "@/life/queries";
import { TypoNote } from "@/life/TypoNote";
import { NumberField } from "@/parts/NumberField";
import { SaveButton, useReds } from "@/parts/reds";
import { TextField } from "@/parts/TextField";

const EMPTY = {
  cells: "",
  mohm: "",
  temperature_c: null as number | null,
  put_in_mah: null as number | null,
  balance_min: null as number | null,
};

const COMPARED = "Cell against cell from 15% charge on; over time at 35 to 90%, with its temperature.";

/**
 * A check typed by hand: what a meter or a charger showed. It counts for the pack's health like any other.
 */
export function CheckPart({ page }: { page: PackPage }) {
  const queries = useQueryClient();
  const [draft, setDraft] = useState(EMPTY);
  const [key, setKey] = useState(newKey);
  const [problems, setProblems] = useState<ReadonlyMap<string, string>>(new Map());
  const { tag } = page.line;
  const [reds, withReds] = useReds();
  const keep = async () => {
    try {
      await say(queries, "check", `the check of ${tag}`, { tag, ...draft }, key);
      setDraft(EMPTY);
      setKey(newKey);
      setProblems(new Map());
    } catch (problem) {
      setProblems(fieldsOf(problem, "It could not be kept."));
    }
  };
  const example = Array.from({ length: page.series }, (_, k) => bare("ratio", 2.4 + (k % 2) / 10)).join(" ");
  return withReds(
    <details className="print-hidden mt-6 border-t pt-3">
      <summary className="font-semibold">Type in a check</summary>
      <form
        className="mt-2 grid gap-x-8 gap-y-1 sm:grid-cols-2"
        onSubmit={(e) => {
          e.preventDefault();
          void keep();
        }}
      >
        <TextField
          label="Volts at rest, cells or pack"
          value={draft.cells}
          problem={problems.get("cells") ?? problems.get("cell_v")}
          onChange={(cells) => setDraft({ ...draft, cells })}
        />
        <TextField
          label="Resistance of each cell, mΩ"
          value={draft.mohm}
          problem={problems.get("mohm")}
          hint={`Like ${example}. ${COMPARED}`}
          onChange={(mohm) => setDraft({ ...draft, mohm })}
        />
        <TypoNote tag={tag} cells={draft.cells} onUse={(cells) => setDraft({ ...draft, cells })} />
        <TypoNote tag={tag} mohm={draft.mohm} onUse={(mohm) => setDraft({ ...draft, mohm })} />
        <NumberField
          label="Temperature of the pack"
          kind="temperature"
          value={draft.temperature_c}
          step={1}
          optional
          placeholder="?"
          problem={problems.get("temperature_c")}
          onChange={(v) => setDraft({ ...draft, temperature_c: v })}
        />
        <NumberField
          label="Then put in until full"
          kind="charge"
          value={draft.put_in_mah}
          step={50}
          optional
          placeholder="–"
          problem={problems.get("put_in_mah")}
          onChange={(v) => setDraft({ ...draft, put_in_mah: v })}
        />
        <NumberField
          label="Minutes of balancing"
          kind="minutes"
          value={draft.balance_min}
          step={1}
          optional
          placeholder="–"
          problem={problems.get("balance_min")}
          onChange={(v) => setDraft({ ...draft, balance_min: v })}
        />
        <div className="self-end">
          <SaveButton reds={reds} look="control text-plain">
            Keep the check
          </SaveButton>
        </div>
        {problems.get("") && (
          <p role="alert" className="text-alert">
            {problems.get("")}
          </p>
        )}
      </form>
    </details>,
  );
}
