import type { PracticeThing } from "@/api/types";

/** What lies before one: a label as it is printed, a charger's sheet, a meter's readings. */
export function ThingDrawn({ thing }: { thing: PracticeThing }) {
  const [first = "", ...rest] = thing.lines;
  if (thing.kind === "label")
    return (
      <figure className="min-w-56 rounded-plate border-2 border-ink bg-sheet px-5 py-4">
        <p className="text-title font-semibold leading-7">{first}</p>
        {rest.map((line) => (
          <p key={line} className="number text-lead">
            {line}
          </p>
        ))}
        <figcaption className="mt-2 border-t pt-1 text-small text-ink-faint">{thing.name}</figcaption>
      </figure>
    );
  return (
    <figure className="min-w-48 border bg-sheet px-4 py-3">
      <figcaption className="text-small text-ink-faint">{thing.name}</figcaption>
      {thing.lines.map((line) => (
        <p key={line} className={thing.kind === "readings" ? "number break-words" : ""}>
          {line}
        </p>
      ))}
    </figure>
  );
}
