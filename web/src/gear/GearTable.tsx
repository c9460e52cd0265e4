import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { wordsOf } from "@/api/problem";
import type { Choices, GearKind } from "@/api/types";
import { notify } from "@/app/notices";
import { choicesQuery } from "@/app/queries";
import { type Preferences, usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { GEAR, type GearSpec, listOf } from "@/gear/fields";
import { copyGear, gearChanged, removeGear, tellChange } from "@/gear/queries";

type Row = { id: number; name: string };
type Props = { kind: GearKind; rows: readonly Row[]; find: string; onEdit: (id: number) => void };
type Column = GearSpec["columns"][number];

const SHOWN = 300;

/** The list of one kind. A row opens by its name; a deleted one comes back by Undo. */
export function GearTable({ kind, rows, find, onEdit }: Props) {
  const spec = GEAR[kind];
  const { data: choices } = useQuery(choicesQuery);
  const p = usePreferences();
  const cells = (row: Row) => spec.columns.map((c) => cellText(c, row, choices, p));
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  const found = words.length
    ? rows.filter((row) => {
        const text = cells(row).join(" ").toLowerCase();
        return words.every((w) => text.includes(w));
      })
    : rows;
  if (rows.length === 0)
    return (
      <p className="mt-8 max-w-prose text-ink-soft">
        Nothing here yet. Add one by hand{kind === "packs" ? ", or paste a pack’s label" : ""}, or import a
        file.
      </p>
    );
  return (
    <div className="relative mt-3 overflow-x-auto">
      <table className="w-full border-collapse text-[13.5px]">
        <caption className="sr-only">
          {spec.many}: {found.length} of {rows.length}
        </caption>
        <thead className="text-[11.5px] text-ink-faint [&_th]:border-b [&_th]:px-2 [&_th]:py-1 [&_th]:font-medium">
          <tr>
            {spec.columns.map((c) => (
              <th
                key={c.name + c.label}
                scope="col"
                className={`${isNumber(c) ? "text-right" : "text-left"} ${onPhone(spec, c) ? "" : "hidden sm:table-cell"}`}
              >
                {c.label}
              </th>
            ))}
            <th scope="col">
              <span className="sr-only">Actions</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {found.slice(0, SHOWN).map((row) => (
            <Line key={row.id} kind={kind} row={row} cells={cells(row)} onEdit={onEdit} />
          ))}
        </tbody>
      </table>
      {found.length === 0 && <p className="py-4 text-ink-faint">Nothing is called “{find}”.</p>}
      {found.length > SHOWN && (
        <p className="py-3 text-ink-faint">
          The first {SHOWN} of {found.length}. Search to see others.
        </p>
      )}
    </div>
  );
}

type LineProps = { kind: GearKind; row: Row; cells: string[]; onEdit: (id: number) => void };

function Line({ kind, row, cells, onEdit }: LineProps) {
  const spec = GEAR[kind];
  const queries = useQueryClient();
  const unfit = "fit" in row && row.fit === false;
  const act = async (what: () => Promise<{ id: number; label: string }>) => {
    try {
      tellChange(queries, await what());
      gearChanged(queries);
    } catch (problem) {
      notify(wordsOf(problem, "It could not be done."), { wrong: true });
    }
  };
  return (
    <tr className={`border-b border-hollow hover:bg-sheet ${unfit ? "text-ink-faint" : ""}`}>
      {spec.columns.map((c, i) => (
        <td
          key={c.name + c.label}
          className={`px-2 py-1.5 ${onPhone(spec, c) ? "" : "hidden sm:table-cell"} ${isNumber(c) ? "number whitespace-nowrap text-right text-[12.5px]" : ""}`}
        >
          {c.name === "name" ? (
            <button
              type="button"
              className="text-left font-medium hover:text-fjord"
              onClick={() => onEdit(row.id)}
            >
              {cells[i]}
              {unfit && <span className="ml-1.5 border border-rule-strong px-1 text-[11px]">unfit</span>}
            </button>
          ) : (
            cells[i]
          )}
        </td>
      ))}
      <td className="whitespace-nowrap px-2 py-1.5 text-right text-xs">
        <Use kind={kind} row={row} />
        <button
          type="button"
          className="action ml-3"
          onClick={() => void act(async () => (await copyGear(kind, row.id)).change)}
        >
          Copy<span className="sr-only"> {row.name}</span>
        </button>
        <button
          type="button"
          className="action ml-3"
          onClick={() => void act(() => removeGear(kind, row.id))}
        >
          Delete<span className="sr-only"> {row.name}</span>
        </button>
      </td>
    </tr>
  );
}

function Use({ kind, row }: { kind: GearKind; row: Row }) {
  if (kind === "models" && "slug" in row)
    return (
      <Link to="/size/$model" params={{ model: String(row.slug) }} className="action">
        Size<span className="sr-only"> for {row.name}</span>
      </Link>
    );
  return null;
}

/** A phone has room for the name and the two columns behind it. */
function onPhone(spec: GearSpec, column: Column): boolean {
  const name = spec.columns.findIndex((c) => c.name === "name");
  return spec.columns.indexOf(column) <= name + 2;
}

function isNumber(column: Column): boolean {
  return column.kind !== undefined || column.suffix !== undefined || column.name === "ports";
}

function cellText(column: Column, row: Row, choices: Choices | undefined, p: Preferences): string {
  const value = (row as unknown as Record<string, unknown>)[column.name];
  if (value === null || value === undefined || value === "") return column.kind ? "—" : "";
  if (column.kind && typeof value === "number") return worded(column.kind, value, p);
  if (column.suffix) return `${String(value)}${column.suffix}`;
  if (column.from) return listOf(choices, column.from).find((c) => c.id === value)?.name ?? String(value);
  return String(value);
}
