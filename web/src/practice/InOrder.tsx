import { type KeyboardEvent, useState } from "react";

type Props = {
  options: readonly { id: string; name: string }[];
  ids: string[];
  onChange: (ids: string[]) => void;
};

/** All of them in order: moved by its arrows, by the arrow keys, or dragged. */
export function InOrder({ options, ids, onChange }: Props) {
  const names = new Map(options.map((o) => [o.id, o.name]));
  const [dragged, drag] = useState<string>();
  const [told, tell] = useState("");
  const move = (id: string, to: number) => {
    const from = ids.indexOf(id);
    if (from < 0 || to < 0 || to >= ids.length || to === from) return;
    const next = ids.filter((x) => x !== id);
    next.splice(to, 0, id);
    onChange(next);
    tell(`${names.get(id)}: now ${to + 1} of ${ids.length}`);
  };
  const keys = (e: KeyboardEvent, id: string) => {
    const by = { ArrowUp: -1, ArrowDown: 1 }[e.key];
    if (!by) return;
    e.preventDefault();
    move(id, ids.indexOf(id) + by);
  };
  return (
    <>
      <ol className="divide-y border-y">
        {ids.map((id, i) => (
          <li
            key={id}
            draggable
            className={`flex min-h-11 items-center gap-2 py-1 ${dragged === id ? "bg-hollow" : ""}`}
            onDragStart={() => drag(id)}
            onDragEnd={() => drag(undefined)}
            onDragOver={(e) => {
              e.preventDefault();
              if (dragged) move(dragged, i);
            }}
          >
            <span className="number w-5 font-semibold">{i + 1}</span>
            <span className="flex-1">{names.get(id)}</span>
            {([-1, 1] as const).map((by) => (
              <button
                key={by}
                type="button"
                className="control min-h-9 min-w-9 px-2"
                aria-label={`${names.get(id)}: ${by < 0 ? "earlier" : "later"}`}
                disabled={by < 0 ? i === 0 : i === ids.length - 1}
                onClick={() => move(id, i + by)}
                onKeyDown={(e) => keys(e, id)}
              >
                {by < 0 ? "↑" : "↓"}
              </button>
            ))}
          </li>
        ))}
      </ol>
      <p role="status" className="sr-only">
        {told}
      </p>
    </>
  );
}
