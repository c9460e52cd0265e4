import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { useLine } from "@/app/line";
import { type Preferences, usePreferences } from "@/format/preferences";
import { timeAlone } from "@/format/time";

const LOOK = "bg-hollow text-small";

/** Since when there is no line, and what still works; absent while there is one. When it is back, all is read
 *  anew. */
export function LineLine() {
  const since = useLine();
  const p = usePreferences();
  const queries = useQueryClient();
  const was = useRef(since);
  useEffect(() => {
    if (was.current !== undefined && since === undefined) void queries.invalidateQueries();
    was.current = since;
  }, [since, queries]);
  if (since === undefined) return null;
  return (
    <p
      role="status"
      className={`no-print flex flex-wrap items-baseline gap-x-2 border-b px-4 py-1 md:px-6 ${LOOK}`}
    >
      <span>
        <span className="font-semibold">No line to the computer {sinceWords(since, p)}.</span> Timer, log and
        field kit go on; what you say is sent when it is back.
      </span>
      <button type="button" className="action min-h-6" onClick={() => void queries.invalidateQueries()}>
        Try again
      </button>
    </p>
  );
}

function sinceWords(at: number, p: Preferences): string {
  return `since ${timeAlone(new Date(at).toISOString(), p)}`;
}
