import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useAct } from "@/app/act";
import { usePreferences } from "@/format/preferences";
import { timeWords } from "@/format/time";
import { changesQuery, undoVerb } from "@/gear/queries";
import { ActRow } from "@/parts/ActRow";

/** The latest changes of gear, by whose hands, each of which can be undone; asked for when it is opened. */
export function ChangesPart() {
  const [open, setOpen] = useState(false);
  return (
    <details
      className="print-hidden mt-8 border-t pt-3"
      onToggle={(e) => setOpen((e.currentTarget as HTMLDetailsElement).open)}
    >
      <summary className="font-semibold">What was changed here lately</summary>
      {open && <Latest />}
    </details>
  );
}

function Latest() {
  const p = usePreferences();
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
        <ActRow
          key={change.id}
          at={change.at}
          when={timeWords(change.at, p)}
          hands={change.hands}
          act={{ name: "Undo", label: `Undo: ${change.label}`, run: () => void act(undoVerb(change)) }}
        >
          {change.label}
        </ActRow>
      ))}
    </ul>
  );
}
