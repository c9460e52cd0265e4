import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, client } from "@/api/client";
import { perform } from "@/app/act";
import { undoVerb } from "@/gear/queries";
import { Folded } from "@/parts/Folded";

/** A friend's pack at the field: taken in by one line, and there to be read. */
export function LentPart({ onTaken }: { onTaken: (tag: string) => void }) {
  const queries = useQueryClient();
  const [line, setLine] = useState("");
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);
  const take = async () => {
    setWrong("");
    let tag = "";
    setBusy(true);
    const done = await perform(queries, {
      act: async () => {
        const made = await answered(client.POST("/api/lent", { body: { line } }));
        tag = made.tag;
        return made;
      },
      touches: ["gear", "life"],
      fails: "It could not be taken in.",
      onFail: setWrong,
      says: (made) => {
        if (made.again) return `${made.tag} is here again, with its history.`;
        const assumed = made.assumed.length > 0 ? `; assumed: ${made.assumed.join(", ")}` : "";
        return `${made.tag} is in the box, its past unknown${assumed}.`;
      },
      undo: (made) => undoVerb(made.change),
    });
    setBusy(false);
    if (!done) return;
    setLine("");
    onTaken(tag);
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
        {wrong && (
          <p id="lent-wrong" role="alert" className="mt-1 text-alert">
            {wrong}
          </p>
        )}
      </form>
    </Folded>
  );
}
