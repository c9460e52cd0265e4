import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { wordsOf } from "@/api/problem";
import type { PackPage } from "@/api/types";
import { touched } from "@/app/act";
import { newKey, sayOrKeep } from "@/app/outbox";
import { dateWords } from "@/format/time";
import { tellWaits, withdraw } from "@/life/queries";
import { ActRow } from "@/parts/ActRow";

/** Dated sentences about a pack: dropped from two metres, charged at the neighbour's. */
export function NotesPart({ page }: { page: PackPage }) {
  const queries = useQueryClient();
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState<string | undefined>();
  const [key, setKey] = useState(newKey);
  const note = async () => {
    try {
      const { tag } = page.line;
      const kept = await sayOrKeep("note", key, `the note about ${tag}`, { tag, text });
      if (kept) touched(queries, "life");
      else tellWaits(queries, key, `the note about ${tag}`);
      setText("");
      setKey(newKey);
      setWrong(undefined);
    } catch (problem) {
      setWrong(wordsOf(problem, "It could not be kept."));
    }
  };
  return (
    <section aria-label="Notes" className="mt-6 border-t pt-3">
      <h3 className="heading">Notes</h3>
      <form
        className="mt-1 flex items-end gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          void note();
        }}
      >
        <input
          aria-label={`A note about ${page.line.tag}`}
          placeholder="Dropped on its corner, looked sound"
          maxLength={300}
          autoComplete="off"
          className="field min-w-0 flex-1 py-1"
          value={text}
          aria-invalid={wrong ? true : undefined}
          aria-describedby={wrong ? "note-wrong" : undefined}
          onChange={(e) => setText(e.target.value)}
        />
        <button type="submit" className="control text-plain">
          Note it
        </button>
      </form>
      {wrong && (
        <p id="note-wrong" role="alert" className="text-small text-alert">
          {wrong}
        </p>
      )}
      <ul className="mt-2 divide-y divide-hollow text-plain">
        {page.notes.map((n) => (
          <ActRow
            key={n.id}
            at={n.at}
            when={dateWords(n.at)}
            hands={n.hands}
            act={{
              name: "Take away",
              label: `Take away: ${n.text}`,
              run: () => void withdraw(queries, [n.id]),
            }}
          >
            {n.text}
          </ActRow>
        ))}
      </ul>
    </section>
  );
}
