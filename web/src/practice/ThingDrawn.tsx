import { useQuery } from "@tanstack/react-query";
import type { PracticeThing } from "@/api/types";
import { PlugFace } from "@/drawings/PlugFace";
import { plugLooksQuery } from "@/drawings/queries";
import { bare } from "@/format/quantity";

/** What lies before one: a label as it is printed, a sheet, a plug from the front, a meter on its cells. */
export function ThingDrawn({ thing }: { thing: PracticeThing }) {
  if (thing.kind === "label") return <Label thing={thing} />;
  if (thing.kind === "readings") return <Meter thing={thing} />;
  return (
    <figure className="min-w-44 max-w-full border bg-sheet px-4 py-3">
      <figcaption className="mb-1 font-semibold">{thing.name}</figcaption>
      {thing.plug && <Plug family={thing.plug} name={`${thing.name}, ${thing.lines[0]}`} />}
      {thing.lines.map((line) => (
        <p key={line} className={thing.kind === "page" ? "number text-plain" : ""}>
          {line}
        </p>
      ))}
    </figure>
  );
}

/** A shrink-wrapped label: the maker large, the figures below it. */
function Label({ thing }: { thing: PracticeThing }) {
  const [first = "", ...rest] = thing.lines;
  return (
    <figure className="min-w-56">
      <div className="rounded-plate border-2 border-ink bg-sheet px-5 py-3">
        <p className="border-b-2 border-ink pb-1 text-title font-bold leading-7">{first}</p>
        {rest.map((line) => (
          <p key={line} className="number mt-1.5 whitespace-pre-wrap text-lead">
            {line}
          </p>
        ))}
      </div>
      <figcaption className="mt-1 text-small text-ink-faint">{thing.name}</figcaption>
    </figure>
  );
}

/** A cell checker: each cell with its number and volts. */
function Meter({ thing }: { thing: PracticeThing }) {
  return (
    <figure className="max-w-full">
      <div className="flex flex-wrap gap-px border-2 border-ink bg-ink">
        {[...(thing.cell_v ?? []).entries()].map(([i, volts]) => (
          <div key={i} className="grow bg-sheet px-2.5 py-1.5 text-center">
            <span className="block text-fine text-ink-faint">cell {i + 1}</span>
            <span className="number text-lead font-semibold">{bare("cell_reading", volts)}</span>
          </div>
        ))}
      </div>
      <figcaption className="mt-1 text-small text-ink-faint">
        {[thing.name, ...thing.lines].join("; ")}
      </figcaption>
    </figure>
  );
}

/** The plug from the front, where somebody knows what it looks like. */
function Plug({ family, name }: { family: string; name: string }) {
  const looks = useQuery(plugLooksQuery);
  const face = looks.data?.find((x) => x.id === family)?.face;
  return (
    <div className="flex min-h-20 items-center justify-center py-2">
      {face && <PlugFace face={face} name={name} scale={2.4} />}
    </div>
  );
}
