import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useAct } from "@/app/act";
import { handsWords } from "@/format/hands";
import { timeWords } from "@/format/time";
import { changesQuery, undoVerb } from "@/gear/queries";

/** The latest changes of gear, by whose hands, each of which can be undone; asked for when it is opened. */
export function ChangesPart() {
  const [open, setOpen] = useState(false);
  return (
    <details
      className="print-hidden mt-8 border-t pt-3"
      onToggle={(e) => setOpen((e.currentTarget as HTMLDetailsElement).open)}
    >
      <summary className="cursor-pointer font-semibold">What was changed here lately</summary>
      {open && <Latest />}
    </details>
  );
}

function Latest() {
  const { data: changes } = useQuery(changesQuery);
  const act = useAct();
  if (!changes)
    return (
      <p className="mt-2 text-ink-faint" aria-busy="true">
        Fetching…
      </p>
    );
  if (changes.length === 0) return <p className="mt-2 text-ink-soft">Nothing that could be undone.</p>;
  return (
    <ul className="mt-2 max-w-prose divide-y divide-hollow text-plain">
      {changes.map((change) => (
        <li key={change.id} className="flex items-baseline gap-3 py-1">
          <time className="number shrink-0 text-small text-ink-faint" dateTime={change.at}>
            {timeWords(change.at)}
          </time>
          <span className="min-w-0 flex-1">
            {change.label}
            {change.hands && <span className="text-small text-ink-faint"> · {handsWords(change.hands)}</span>}
          </span>
          <button
            type="button"
            className="action shrink-0 text-small"
            aria-label={`Undo: ${change.label}`}
            onClick={() => void act(undoVerb(change))}
          >
            Undo
          </button>
        </li>
      ))}
    </ul>
  );
}
