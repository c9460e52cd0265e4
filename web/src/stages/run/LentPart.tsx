import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { wordsOf } from "@/api/problem";
import type { Lent } from "@/api/types";
import { tell, type Verb } from "@/app/act";
import { touchedBy } from "@/app/acts";
import { newKey, sayOrKeep, useOutbox } from "@/app/outbox";
import { undoVerb } from "@/gear/queries";
import { tellWaits } from "@/life/queries";
import { Folded } from "@/parts/Folded";

const taken: Omit<Verb<Lent>, "act" | "fails"> = {
  touches: touchedBy("lent"),
  says: (made) => {
    if (made.again) return `${made.tag} is here again, with its history.`;
    const assumed = made.assumed.length > 0 ? `; assumed: ${made.assumed.join(", ")}` : "";
    return `${made.tag} is in the box, its past unknown${assumed}.`;
  },
  undo: (made) => undoVerb(made.change),
};

/** A friend's pack at the field: taken in by one line, and there to be read. */
export function LentPart({ onTaken }: { onTaken: (tag: string) => void }) {
  const queries = useQueryClient();
  const [line, setLine] = useState("");
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);
  const [key, setKey] = useState(newKey);
  const waiting = useOutbox().filter((w) => w.kind === "lent" && !w.refused && !w.undone);
  const take = async () => {
    setWrong("");
    setBusy(true);
    try {
      const made = await sayOrKeep("lent", key, `“${line}”`, { line });
      if (made) tell(queries, taken, made);
      else tellWaits(queries, key, `“${line}”`);
      setLine("");
      setKey(newKey);
      if (made) onTaken(made.tag);
    } catch (problem) {
      setWrong(wordsOf(problem, "It could not be taken in."));
    } finally {
      setBusy(false);
    }
  };
  return (
    <Folded name="A friend’s pack" className="mt-3 text-plain text-ink-soft">
      <form
        className="mt-1"
        onSubmit={(e) => {
          e.preventDefault();
          void take();
        }}
      >
        <label htmlFor="lent-line">Its tag and its label, in one line</label>
        <div className="flex flex-wrap items-center gap-2">
          <input
            id="lent-line"
            className="field number min-w-0 flex-1"
            placeholder="K3 3S 2200 40C XT60"
            autoComplete="off"
            maxLength={120}
            value={line}
            aria-invalid={wrong ? true : undefined}
            aria-describedby={wrong ? "lent-wrong" : undefined}
            onChange={(e) => setLine(e.target.value)}
          />
          <button type="submit" className="control" disabled={busy || !line.trim()}>
            Take it in
          </button>
        </div>
        {waiting.map((w) => (
          <p key={w.key} className="mt-1">
            {w.words} waits for a line: nothing here knows it yet, so nothing here says go. Read each cell,
            run it short, and log its runs when it is in the list.
          </p>
        ))}
        {wrong && (
          <p id="lent-wrong" role="alert" className="mt-1 text-alert">
            {wrong}
          </p>
        )}
      </form>
    </Folded>
  );
}
