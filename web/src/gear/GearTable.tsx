import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useMemo, useState } from "react";
import type { Change, Choices, GearKind } from "@/api/types";
import { useAct } from "@/app/act";
import { choicesQuery } from "@/app/queries";
import { type Preferences, usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { GEAR, type GearSpec, listOf } from "@/gear/fields";
import { buyPack, changeVerb, copyGear, removeGear, removeSeveral } from "@/gear/queries";
import { finder } from "@/parts/finder";
import { Room } from "@/parts/Room";
import { useRows } from "@/parts/useRows";

type Row = { id: number; name: string };
type Props = {
  kind: GearKind;
  rows: readonly Row[];
  find: string;
  onEdit: (id: number) => void;
  onTwin: (id: number) => void;
};
type Column = GearSpec["columns"][number];

const ROW_PX = 33;

/**
 * The list of one kind. A row opens by its name; several can be chosen and deleted; what is deleted
 * comes back by Undo.
 */
export function GearTable({ kind, rows, find, onEdit, onTwin }: Props) {
  const spec = GEAR[kind];
  const { data: choices } = useQuery(choicesQuery);
  const p = usePreferences();
  const act = useChange();
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [order, setOrder] = useState<Order>();
  const lines = useMemo(
    () => rows.map((row) => ({ row, cells: spec.columns.map((c) => cellText(c, row, choices, p)) })),
    [rows, spec, choices, p],
  );
  const found = useMemo(() => {
    const fits = finder(find);
    const fitting = lines.filter((line) => fits(line.cells.join(" ")));
    return sorted(fitting, spec, order);
  }, [lines, find, spec, order]);
  const list = useRows<HTMLTableSectionElement>(found.length, ROW_PX);
  if (rows.length === 0)
    return (
      <p className="mt-8 max-w-prose text-ink-soft">
        Nothing here yet. Add one by hand{kind === "packs" ? ", or paste a pack’s label" : ""}, or import a
        file.
      </p>
    );
  // what is found and chosen: a row that went, or is searched away, is not deleted with the others
  const marked = found.map((line) => line.row.id).filter((id) => chosen.has(id));
  const mark = (ids: number[], on: boolean) => {
    const next = new Set(chosen);
    for (const id of ids) on ? next.add(id) : next.delete(id);
    setChosen(next);
  };
  const offers = rows.filter((row) => "offer" in row && row.offer === true).map((row) => row.id);
  return (
    <div className="relative mt-3 overflow-x-auto">
      <div className="flex min-h-8 flex-wrap items-center gap-x-4 gap-y-1 text-plain">
        {marked.length > 0 && (
          <>
            <span>{marked.length} chosen</span>
            <button
              type="button"
              className="control text-small"
              onClick={() => void act(() => removeSeveral(kind, marked)).then(() => setChosen(new Set()))}
            >
              Delete {marked.length}
            </button>
            <button type="button" className="action" onClick={() => setChosen(new Set())}>
              Choose none
            </button>
          </>
        )}
        {marked.length === 0 && offers.length > 0 && (
          <button
            type="button"
            className="action"
            onClick={() => void act(() => removeSeveral(kind, offers))}
          >
            Throw out {offers.length === 1 ? "the offer" : `all ${offers.length} offers`}
          </button>
        )}
      </div>
      <table aria-rowcount={found.length + 1} className="w-full border-collapse text-plain">
        <caption className="sr-only">
          {spec.many}: {found.length} of {rows.length}
        </caption>
        <thead className="head [&_th]:px-2">
          <tr>
            <th scope="col" className="w-6">
              <input
                type="checkbox"
                aria-label={`Choose all ${spec.many.toLowerCase()} shown`}
                checked={found.length > 0 && marked.length === found.length}
                onChange={(e) =>
                  mark(
                    found.map((line) => line.row.id),
                    e.target.checked,
                  )
                }
              />
            </th>
            {spec.columns.map((c) => (
              <th
                key={c.name + c.label}
                scope="col"
                aria-sort={order?.column !== c ? undefined : order.down ? "descending" : "ascending"}
                className={`${isNumber(c) ? "text-right" : "text-left"}
                  ${onPhone(spec, c) ? "" : "hidden sm:table-cell"}`}
              >
                <button
                  type="button"
                  className="hit font-medium hover:text-ink"
                  onClick={() => setOrder(nextOrder(order, c))}
                >
                  {c.label}
                  <span aria-hidden="true">{order?.column !== c ? "" : order.down ? " ↓" : " ↑"}</span>
                </button>
              </th>
            ))}
            <th scope="col">
              <span className="sr-only">Actions</span>
            </th>
          </tr>
        </thead>
        <tbody ref={list.box} onKeyDown={list.onKeyDown} onFocus={list.onFocus}>
          <Room height={list.before} />
          {list.shown.map((index) => {
            const line = found[index];
            return line ? (
              <Line
                key={line.row.id}
                index={index}
                tab={list.tab(index)}
                kind={kind}
                row={line.row}
                cells={line.cells}
                chosen={chosen.has(line.row.id)}
                onChoose={(on) => mark([line.row.id], on)}
                onEdit={onEdit}
                onTwin={onTwin}
              />
            ) : null;
          })}
          <Room height={list.after} />
        </tbody>
      </table>
      {found.length === 0 && <p className="py-4 text-ink-faint">Nothing is called “{find}”.</p>}
    </div>
  );
}

type ListLine = { row: Row; cells: string[] };
type Order = { column: Column; down: boolean };

/** A press on a column's name sorts by it, the next the other way round, the third as they came. */
function nextOrder(now: Order | undefined, column: Column): Order | undefined {
  if (now?.column !== column) return { column, down: false };
  return now.down ? undefined : { column, down: true };
}

const WORDS = new Intl.Collator(undefined, { numeric: true });

/** By the value behind a column, or by its words; what has none comes last. */
function sorted(lines: readonly ListLine[], spec: GearSpec, order: Order | undefined): readonly ListLine[] {
  if (!order) return lines;
  const at = spec.columns.indexOf(order.column);
  const value = (line: ListLine) => (line.row as unknown as Record<string, unknown>)[order.column.name];
  const sign = order.down ? -1 : 1;
  return [...lines].sort((one, other) => {
    const [a, b] = [value(one), value(other)];
    if (typeof a === "number" && typeof b === "number") return sign * (a - b);
    const [left, right] = [one.cells[at] ?? "", other.cells[at] ?? ""];
    const none = (text: string) => text === "" || text === "—";
    if (none(left) !== none(right)) return none(left) ? 1 : -1;
    return sign * WORDS.compare(left, right);
  });
}

/** Do a thing that can be undone, and say so; or say why it could not be done. */
function useChange() {
  const act = useAct();
  return (what: () => Promise<Change>) => act(changeVerb(what, "It could not be done."));
}

type LineProps = {
  index: number;
  tab: 0 | -1;
  kind: GearKind;
  row: Row;
  cells: string[];
  chosen: boolean;
  onChoose: (on: boolean) => void;
  onEdit: (id: number) => void;
  onTwin: (id: number) => void;
};

function Line({ index, tab, kind, row, cells, chosen, onChoose, onEdit, onTwin }: LineProps) {
  const spec = GEAR[kind];
  const act = useChange();
  const unfit = "fit" in row && row.fit === false;
  const assumed = "assumed" in row && Array.isArray(row.assumed) ? (row.assumed as string[]) : [];
  return (
    <tr
      data-index={index}
      aria-rowindex={index + 2}
      className={`border-b border-hollow hover:bg-sheet ${unfit ? "text-ink-faint" : ""}`}
    >
      <td className="w-6 px-2">
        <input
          type="checkbox"
          tabIndex={tab}
          aria-label={`Choose ${row.name}`}
          checked={chosen}
          onChange={(e) => onChoose(e.target.checked)}
        />
      </td>
      {spec.columns.map((c, i) => (
        <td
          key={c.name + c.label}
          className={`px-2 py-1.5 ${onPhone(spec, c) ? "" : "hidden sm:table-cell"}
            ${isNumber(c) ? "number whitespace-nowrap text-right text-small" : ""}`}
        >
          {c.name === "name" ? (
            <button
              type="button"
              tabIndex={tab}
              className="hit text-left font-medium hover:text-fjord"
              onClick={() => onEdit(row.id)}
            >
              {cells[i]}
              {unfit && <span className="ml-1.5 border border-rule-strong px-1 text-fine">unfit</span>}
            </button>
          ) : assumed.includes(c.name) ? (
            <span className="assumed border-b" title="assumed">
              {cells[i]}
              <span className="sr-only"> (assumed)</span>
            </span>
          ) : (
            cells[i]
          )}
        </td>
      ))}
      <td className="whitespace-nowrap px-2 py-1.5 text-right text-small max-sm:*:block max-sm:*:ml-auto">
        <Use kind={kind} row={row} tab={tab} />
        <button
          type="button"
          tabIndex={tab}
          className="action ml-3"
          onClick={() =>
            // a model is copied with its whole job; of the rest the twin is shown first
            kind === "models" ? void act(async () => (await copyGear(kind, row.id)).change) : onTwin(row.id)
          }
        >
          Copy<span className="sr-only"> {row.name}</span>
        </button>
        <button
          type="button"
          tabIndex={tab}
          className="action ml-3"
          onClick={() => void act(() => removeGear(kind, row.id))}
        >
          Delete<span className="sr-only"> {row.name}</span>
        </button>
      </td>
    </tr>
  );
}

function Use({ kind, row, tab }: { kind: GearKind; row: Row; tab: 0 | -1 }) {
  if (kind === "models" && "slug" in row)
    return (
      <Link to="/size/$model" params={{ model: String(row.slug) }} tabIndex={tab} className="action">
        Size<span className="sr-only"> for {row.name}</span>
      </Link>
    );
  if (kind === "catalogue") return <Buy row={row} tab={tab} />;
  return null;
}

/** Bought: owned under the next tag, in one step that can be undone. */
function Buy({ row, tab }: { row: Row; tab: 0 | -1 }) {
  const act = useChange();
  // pressed twice it is bought once
  const [busy, setBusy] = useState(false);
  const buy = async () => {
    setBusy(true);
    await act(async () => (await buyPack(row.id, "")).change);
    setBusy(false);
  };
  return (
    <button type="button" tabIndex={tab} className="action" disabled={busy} onClick={() => void buy()}>
      Bought<span className="sr-only">: {row.name}</span>
    </button>
  );
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
  const all = row as unknown as Record<string, unknown>;
  const value = all[column.name];
  if (column.flag) return all[column.flag] === true ? String(value || "yes") : "";
  if (value === null || value === undefined || value === "") return column.kind ? "—" : "";
  if (column.kind && typeof value === "number") return worded(column.kind, value, p);
  if (column.suffix) return `${String(value)}${column.suffix}`;
  if (column.from) return listOf(choices, column.from).find((c) => c.id === value)?.name ?? String(value);
  return String(value);
}
