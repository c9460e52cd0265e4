import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { wordsOf } from "@/api/problem";
import type { PackPage } from "@/api/types";
import { notify } from "@/app/notices";
import { dateWords } from "@/format/time";
import { addNote, bringNoteBack, removeNote } from "@/stages/keep/queries";

/** Dated sentences about a pack: dropped from two metres, charged at the neighbour's. */
export function NotesPart({ page }: { page: PackPage }) {
  const queries = useQueryClient();
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState<string | undefined>();
  const fresh = () => void queries.invalidateQueries({ queryKey: ["pack-page"] });
  const act = async (work: () => Promise<unknown>, done?: () => void) => {
    try {
      await work();
      setWrong(undefined);
      done?.();
      fresh();
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
          void act(
            () => addNote(page.line.tag, text),
            () => setText(""),
          );
        }}
      >
        <input
          aria-label={`A note about ${page.line.tag}`}
          placeholder="Dropped on its corner, looked sound"
          maxLength={300}
          autoComplete="off"
          className="min-w-0 flex-1 border-b border-rule-strong bg-transparent py-1 outline-none placeholder:text-ink-faint focus:border-fjord"
          value={text}
          aria-invalid={wrong ? true : undefined}
          aria-describedby={wrong ? "note-wrong" : undefined}
          onChange={(e) => setText(e.target.value)}
        />
        <button type="submit" className="control text-[13px]">
          Note it
        </button>
      </form>
      {wrong && (
        <p id="note-wrong" role="alert" className="text-xs text-alert">
          {wrong}
        </p>
      )}
      <ul className="mt-2 divide-y divide-hollow text-[13px]">
        {page.notes.map((n) => (
          <li key={n.id} className="flex items-baseline gap-3 py-1">
            <time className="number shrink-0 text-[12px] text-ink-faint" dateTime={n.at}>
              {dateWords(n.at)}
            </time>
            <span className="min-w-0 flex-1">{n.text}</span>
            <button
              type="button"
              className="action text-xs"
              aria-label={`Take away: ${n.text}`}
              onClick={() =>
                void act(
                  () => removeNote(n.id),
                  () =>
                    notify("Took the note away", {
                      act: { name: "Undo", run: () => void act(() => bringNoteBack(n.id)) },
                    }),
                )
              }
            >
              Take away
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
