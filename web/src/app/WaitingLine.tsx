import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect } from "react";
import { touched } from "@/app/act";
import { type Kind, touchedBy } from "@/app/acts";
import { useLine } from "@/app/line";
import { drop, type Item, itIsSo, send, useOutbox } from "@/app/outbox";
import { useRoom, watchRoom } from "@/app/room";
import { useAlongStaysNew } from "@/app/stayNew";

const NOUNS = {
  run: "run",
  more: "addition",
  note: "note",
  check: "check",
  look: "inspection",
  left: "state",
  charged: "charge",
  lent: "friend’s pack",
} as const;

/** What waits to be sent, on every stage; and what the server refused, with a way out. Absent when all is
 *  sent. */
export function WaitingLine() {
  useEffect(watchRoom, []);
  useAlongStaysNew();
  const waiting = useOutbox();
  const lossy = useRoom();
  const lost = useLine() !== undefined;
  const some = waiting.some((w) => !w.refused);
  const queries = useQueryClient();
  const fresh = useCallback((kind: Kind) => touched(queries, ...touchedBy(kind)), [queries]);
  useEffect(() => {
    // tried at once, and again every few seconds as long as something waits
    if (some && !lost) void send(fresh);
    const online = () => void send(fresh);
    window.addEventListener("online", online);
    return () => window.removeEventListener("online", online);
  }, [some, lost, fresh]);
  const unsent = waiting.filter((w) => !w.refused && !w.undone);
  const refused = waiting.filter((w) => w.refused);
  return (
    <div className="no-print text-small" aria-live="polite">
      {unsent.length > 0 && (
        <p className="border-b px-4 py-1 text-ink-soft md:px-6">
          {counted(unsent)} here to be sent{lossy ? "." : "; nothing is lost."}
        </p>
      )}
      {lossy && (
        <p role="alert" className="border-b px-4 py-1 font-semibold text-alert md:px-6">
          {lossy === "nearly" &&
            "This browser is nearly full: send what waits, or free some space, before you go."}
          {lossy === "full" &&
            (unsent.length > 0
              ? "This browser keeps no more: do not close this page before all is sent, or free some space."
              : "This browser keeps no more: what is said without a line is lost with this page.")}
        </p>
      )}
      {refused.map((w) => (
        <p key={w.key} className="border-b px-4 py-1 font-semibold text-alert md:px-6">
          {w.words} {w.asked ? "is asked back" : "was refused"}: {w.refused}{" "}
          {w.asked && (
            <button type="button" className="action mr-3" onClick={() => itIsSo(w, fresh)}>
              It is so
            </button>
          )}
          <button type="button" className="action" onClick={() => drop(w.key)}>
            Drop it
          </button>
        </p>
      ))}
    </div>
  );
}

/** "2 runs and 1 note wait". */
function counted(items: Item[]): string {
  const kinds = [...new Set(items.map((w) => w.kind))];
  const parts = kinds.map((kind) => {
    const n = items.filter((w) => w.kind === kind).length;
    return `${n} ${NOUNS[kind]}${n === 1 ? "" : "s"}`;
  });
  const all = parts.length > 1 ? `${parts.slice(0, -1).join(", ")} and ${parts.at(-1)}` : (parts[0] ?? "");
  return `${all} ${items.length === 1 ? "waits" : "wait"}`;
}
