import { useQueryClient } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import { useMemo, useState } from "react";
import type { Shelf, ShelfLine } from "@/api/types";
import { perform } from "@/app/act";
import { OwnNow } from "@/gear/OwnNow";
import { type Here, useAsSaid } from "@/life/asSaid";
import { say } from "@/life/queries";
import { finder } from "@/parts/finder";
import { PackState } from "@/parts/PackState";
import { SearchField } from "@/parts/SearchField";
import { useRows } from "@/parts/useRows";
import { PlacePart } from "@/stages/keep/PlacePart";
import type { State } from "@/stages/keep/queries";

const NAMES: Record<string, string> = {
  retire: "Retire",
  inspect: "Look at it first",
  storage: "Bring to storage",
  read: "Read the cells",
  light: "Watch, or light duty",
  day: "For the day ahead",
  ready: "Ready",
  stored: "Stored and sound",
  charging: "On the charger",
  retired: "Retired",
};
const ACTS: { state: State; name: string }[] = [
  { state: "stored", name: "brought to storage" },
  { state: "full", name: "charged full" },
  { state: "spent", name: "run until spent" },
];

/** More packs than one looks through without a search. */
const SEARCHED = 20;
const LINE_PX = 51;

type Props = { shelf: Shelf; picked: string | undefined; shown: string | undefined; hidden: boolean };

/** Packs grouped by what to do now, due soonest first; several at once can be noted as stored. */
export function ShelfPart({ shelf, picked, shown, hidden }: Props) {
  const { model } = useParams({ from: "/keep/$model" });
  const queries = useQueryClient();
  const [marked, setMarked] = useState<string[]>([]);
  const [find, setFind] = useState("");
  const asSaid = useAsSaid();
  const groups = useMemo(() => {
    const fits = finder(find);
    return shelf.groups
      .map((g) => ({
        ...g,
        packs: g.packs.filter((p) => fits(`${p.tag} ${p.name} ${p.sign}`)).map(asSaid),
      }))
      .filter((g) => g.packs.length > 0);
  }, [shelf, find, asSaid]);
  const act = async (state: State) => {
    const words = `the state of ${marked.join(", ")}`;
    const left = { packs: marked, state };
    const said = {
      act: () => say(queries, "left", words, left),
      touches: [],
      fails: "It could not be noted.",
    };
    if (await perform(queries, said)) setMarked([]);
  };
  if (shelf.count === 0)
    return (
      <div className="px-6 py-6">
        <OwnNow
          model={model}
          shows="Here packs stand by what to do with them now: charge, bring to storage, read again,
            retire; each with its life, and whether its cells still go together."
        />
      </div>
    );
  return (
    <section
      aria-label="The shelf"
      className={`px-4 py-4 md:px-6 lg:block lg:border-r ${hidden ? "hidden" : ""}`}
    >
      {marked.length > 0 && (
        <div
          className="sticky top-0 z-10 -mx-2 mb-2 flex flex-wrap items-center gap-x-3 gap-y-1 border
          border-rule-strong bg-sheet px-3 py-2 text-plain"
        >
          <span className="font-semibold">
            {marked.length} pack{marked.length === 1 ? "" : "s"}, now:
          </span>
          {ACTS.map((a) => (
            <button
              key={a.state}
              type="button"
              className="control text-small"
              onClick={() => void act(a.state)}
            >
              {a.name}
            </button>
          ))}
          <button type="button" className="action" onClick={() => setMarked([])}>
            None
          </button>
        </div>
      )}
      <PlacePart />
      {shelf.count > SEARCHED && (
        <SearchField label="Search packs" className="mb-4 w-full max-w-64" value={find} onChange={setFind} />
      )}
      {groups.length === 0 && <p className="text-ink-faint">No pack is called “{find}”.</p>}
      {groups.map((g) => (
        <div key={g.doing} className="mb-5">
          <div className="flex items-baseline justify-between gap-3">
            <h2 className="flex items-baseline gap-2 font-semibold">
              {NAMES[g.doing]} <span className="number text-small text-ink-faint">{g.packs.length}</span>
            </h2>
            {g.doing === "storage" && g.packs.length > 1 && (
              <button
                type="button"
                className="action print-hidden text-small"
                onClick={() => setMarked([...new Set([...marked, ...g.packs.map((p) => p.tag)])])}
              >
                Mark all {g.packs.length}
              </button>
            )}
          </div>
          <Lines
            lines={g.packs}
            picked={picked}
            shown={shown}
            marked={marked}
            onMark={(tag, on) => setMarked(on ? [...marked, tag] : marked.filter((t) => t !== tag))}
          />
        </div>
      ))}
    </section>
  );
}

/** With what was said of it here, and is not known there yet. */
type Line = ShelfLine & { here?: Here };

type LinesProps = {
  lines: Line[];
  picked: string | undefined;
  shown: string | undefined;
  marked: readonly string[];
  onMark: (tag: string, on: boolean) => void;
};

function Lines({ lines, picked, shown, marked, onMark }: LinesProps) {
  const list = useRows<HTMLUListElement>(lines.length, LINE_PX);
  return (
    <ul
      ref={list.box}
      className="mt-1 divide-y divide-hollow"
      style={{ paddingTop: list.before, paddingBottom: list.after }}
      onKeyDown={list.onKeyDown}
      onFocus={list.onFocus}
    >
      {list.shown.map((index) => {
        const line = lines[index];
        return line ? (
          <ShelfRow
            key={line.tag}
            index={index}
            tab={list.tab(index)}
            measure={list.measure}
            line={line}
            picked={picked === line.tag}
            shown={shown === line.tag}
            marked={marked.includes(line.tag)}
            onMark={(on) => onMark(line.tag, on)}
          />
        ) : null;
      })}
    </ul>
  );
}

type RowProps = {
  index: number;
  tab: 0 | -1;
  measure: ((element: HTMLElement | null) => void) | undefined;
  line: Line;
  picked: boolean;
  shown: boolean;
  marked: boolean;
  onMark: (on: boolean) => void;
};

function ShelfRow({ index, tab, measure, line, picked, shown, marked, onMark }: RowProps) {
  const late = line.in_h !== null && line.in_h < 0;
  return (
    <li
      ref={measure}
      data-index={index}
      className={`-ml-3 flex items-start gap-2 border-l-4 py-1.5 pl-2
        ${shown ? "border-l-transparent lg:border-l-fjord" : "border-l-transparent"}`}
    >
      {line.bars || line.doing === "charging" ? (
        <span className="w-6" />
      ) : (
        <input
          type="checkbox"
          tabIndex={tab}
          aria-label={`Mark ${line.tag}`}
          checked={marked}
          onChange={(e) => onMark(e.target.checked)}
        />
      )}
      <Link
        from="/keep/$model"
        tabIndex={tab}
        search={(old) => ({ ...old, pack: line.tag })}
        className="grid min-w-0 flex-1 grid-cols-[2.4rem_minmax(0,1fr)_auto] items-baseline gap-x-1.5"
        aria-current={picked ? "true" : undefined}
      >
        <span className="number text-plain font-semibold">{line.tag}</span>
        <span className="truncate font-medium">{line.name}</span>
        <span className="text-small text-ink-soft">
          <PackState now={line} />
        </span>
        <span className="col-span-2 col-start-2 text-small leading-4.25 text-ink-soft">
          {line.here && <span className="font-semibold">{line.here.words} </span>}
          {line.doing !== "retire" && !line.here && (
            <span className={late ? "font-semibold text-alert" : ""}>
              {line.in_h === null ? line.due_short : `${dueWords(line.in_h)} ${line.due_short}`}{" "}
            </span>
          )}
          {line.sign && line.sign !== line.due_short && line.doing !== "inspect" && (
            <span className={line.doing === "retire" ? "font-medium" : ""}>{line.sign}</span>
          )}
        </span>
      </Link>
    </li>
  );
}

function dueWords(hours: number): string {
  const amount = (h: number) => (h < 48 ? `${Math.max(1, Math.round(h))} h` : `${Math.round(h / 24)} days`);
  return hours < 0 ? `Overdue by ${amount(-hours)}.` : `Within ${amount(hours)}.`;
}
