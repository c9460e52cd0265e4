import type { UseQueryResult } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { Popover } from "radix-ui";
import { type KeyboardEvent, useCallback, useRef, useState } from "react";
import type { Grid, GridCell } from "@/api/types";
import { Waiting } from "@/parts/Waiting";
import type { MatchChoice } from "@/stages/match/useMatchChoice";
import { Failed } from "@/ui/Failed";
import { FIT_WORDS } from "@/ui/FitMark";
import { heat } from "@/ui/heat";

type Props = {
  query: UseQueryResult<Grid>;
  here: string;
  pack: string | undefined;
  charger: string | undefined;
  choice: MatchChoice;
};
type Opened = { cell: GridCell; pack: string; title: string; model?: string; charger?: string };

/** My packs against my models and chargers; each cell explains itself, and opens its pair above. */
export function MatchGrid({ query, here, pack, charger, choice }: Props) {
  const [opened, setOpened] = useState<Opened>();
  const drawn = useDrawnAsSeen(query.data?.packs.length ?? 0);
  const anchor = useRef<HTMLButtonElement>(null as unknown as HTMLButtonElement);
  const grid = query.data;
  if (!grid)
    return (
      <section aria-label="My packs, models and chargers" className="px-4 py-6 md:px-6">
        {query.error ? (
          <Failed error={query.error} onRetry={() => void query.refetch()} className="" />
        ) : (
          <Waiting words="Matching all packs with all models and chargers…" />
        )}
      </section>
    );
  const open = (button: HTMLButtonElement, what: Opened) => {
    anchor.current = button;
    setOpened(what);
  };
  return (
    <section aria-label="My packs, models and chargers" className="px-4 py-5 md:px-6">
      <h2 className="text-lead font-semibold">My packs × my models and chargers</h2>
      <p className="mt-0.5 max-w-prose text-plain text-ink-soft">
        Minutes of running in each model, filled by its hottest link; amps and minutes on each charger.
        Hatched: will not do. A cut corner: goes, with care. Dashed: not known. Press a cell for the reason.
      </p>
      {grid.packs.length === 0 ? (
        <p className="mt-4">
          No packs yet.{" "}
          <Link to="/gear/$kind" params={{ kind: "packs" }} search={{ edit: "new" }} className="action">
            Add one from its label
          </Link>
        </p>
      ) : (
        <div className="relative mt-3 overflow-x-auto pb-1">
          <table className="w-full min-w-[1160px] table-fixed border-separate border-spacing-0 text-small">
            <thead
              className="text-small [&_th]:border-b [&_th]:border-rule-strong [&_th]:px-2 [&_th]:py-1
              [&_th]:text-left [&_th]:align-bottom [&_th]:font-semibold"
            >
              <tr>
                <th scope="col" className="sticky left-0 w-40 bg-ground sm:w-56">
                  Pack
                </th>
                {grid.models.map((m) => (
                  <th key={m.id} scope="col" aria-current={m.id === here || undefined}>
                    {m.name}
                  </th>
                ))}
                {grid.chargers.map((c, i) => (
                  <th key={c.id} scope="col" className={i === 0 ? "border-l border-l-rule-strong" : ""}>
                    {c.name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody onKeyDown={moveBetweenCells}>
              {grid.packs.slice(0, drawn.count).map((row) => (
                <tr key={row.id}>
                  <th
                    scope="row"
                    className={`sticky left-0 border-b border-hollow bg-ground px-2 py-0.5 text-left
                      font-normal ${row.id === pack ? "shadow-[inset_3px_0_0_var(--fjord)]" : ""}`}
                  >
                    <button
                      type="button"
                      aria-pressed={row.id === pack}
                      className="flex w-full gap-2 overflow-hidden text-left hover:text-fjord"
                      onClick={() => choice.set({ pack: row.id, cells: undefined })}
                    >
                      <span className="number text-fine text-ink-faint">{row.tag}</span>
                      <span className="truncate">{row.name}</span>
                    </button>
                  </th>
                  {row.models.map((cell, i) => {
                    const model = grid.models[i];
                    return model ? (
                      <Cell
                        key={model.id}
                        cell={cell}
                        name={`${row.tag} in ${model.name}`}
                        here={row.id === pack && model.id === here}
                        onOpen={(b) =>
                          open(b, {
                            cell,
                            pack: row.id,
                            title: `${row.tag} ${row.name} in ${model.name}`,
                            model: model.id,
                          })
                        }
                      />
                    ) : null;
                  })}
                  {row.chargers.map((cell, i) => {
                    const on = grid.chargers[i];
                    return on ? (
                      <Cell
                        key={on.id}
                        first={i === 0}
                        cell={cell}
                        name={`${row.tag} on ${on.name}`}
                        here={row.id === pack && on.id === charger}
                        onOpen={(b) =>
                          open(b, {
                            cell,
                            pack: row.id,
                            title: `${row.tag} ${row.name} on ${on.name}`,
                            charger: on.id,
                          })
                        }
                      />
                    ) : null;
                  })}
                </tr>
              ))}
            </tbody>
          </table>
          {drawn.count < grid.packs.length && <div ref={drawn.end} className="h-px" />}
        </div>
      )}
      <Popover.Root open={opened !== undefined} onOpenChange={(o) => !o && setOpened(undefined)}>
        <Popover.Anchor virtualRef={anchor} />
        <Popover.Portal>
          <Popover.Content
            aria-label={opened?.title ?? "Why"}
            collisionPadding={12}
            sideOffset={4}
            className="z-40 w-80 max-w-[94vw] border border-rule-strong bg-sheet p-4 text-plain outline-none"
            onCloseAutoFocus={(e) => {
              e.preventDefault();
              anchor.current?.focus();
            }}
          >
            {opened && (
              <Why opened={opened} here={here} choice={choice} onDone={() => setOpened(undefined)} />
            )}
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </section>
  );
}

const ROWS_AT_ONCE = 40;

/** Rows are drawn as they are scrolled to: of five hundred nobody sees more than some. */
function useDrawnAsSeen(all: number): { count: number; end: (mark: HTMLElement | null) => void } {
  const [count, setCount] = useState(ROWS_AT_ONCE);
  const watch = useRef<IntersectionObserver>(undefined);
  // a mark that is still in view after more rows were drawn is looked at anew
  // biome-ignore lint/correctness/useExhaustiveDependencies: the count makes it anew
  const end = useCallback(
    (mark: HTMLElement | null) => {
      watch.current?.disconnect();
      if (!mark) return;
      watch.current = new IntersectionObserver(
        (seen) => seen.some((x) => x.isIntersecting) && setCount((n) => Math.min(n + ROWS_AT_ONCE, all)),
        { rootMargin: "400px" },
      );
      watch.current.observe(mark);
    },
    [all, count],
  );
  return { count, end };
}

type WhyProps = { opened: Opened; here: string; choice: MatchChoice; onDone: () => void };

function Why({ opened, here, choice, onDone }: WhyProps) {
  const { cell } = opened;
  return (
    <>
      <h3 className="font-semibold">{opened.title}</h3>
      <p className="mt-1">{cell.sentence}</p>
      {opened.model && cell.minutes !== null && cell.loading !== null && (
        <p className="mt-1 text-ink-soft">
          {cell.minutes.toFixed(1)} min; the hottest link at {(cell.loading * 100).toFixed(0)} %.
        </p>
      )}
      <p className="mt-3">
        {opened.model && opened.model !== here ? (
          <Link
            to="/match/$model"
            params={{ model: opened.model }}
            search={{ pack: opened.pack }}
            className="action"
            onClick={onDone}
          >
            Show both chains
          </Link>
        ) : (
          <button
            type="button"
            className="action"
            onClick={() => {
              choice.set({
                pack: opened.pack,
                cells: undefined,
                ...(opened.charger
                  ? { charger: opened.charger, source: undefined, supply: undefined, ports: undefined }
                  : {}),
              });
              onDone();
              window.scrollTo({ top: 0 });
            }}
          >
            Show both chains
          </button>
        )}
      </p>
    </>
  );
}

type CellProps = {
  cell: GridCell;
  name: string;
  here: boolean;
  first?: boolean;
  onOpen: (button: HTMLButtonElement) => void;
};

function Cell({ cell, name, here, first = false, onOpen }: CellProps) {
  const no = cell.verdict === "wont";
  const fill =
    !no && cell.loading !== null ? { boxShadow: `inset 0 -3px 0 ${heat(cell.loading)}` } : undefined;
  return (
    <td
      className={`border-b border-hollow p-0 ${first ? "border-l border-l-rule-strong" : ""}
        ${no ? "hatched" : ""} ${cell.verdict === "care" ? "notched" : ""}
        ${cell.verdict === "unknown" ? "dashed" : ""}`}
    >
      <button
        type="button"
        style={fill}
        className={`h-[36px] w-full overflow-hidden px-2 pb-[5px] text-left leading-[13px] hover:bg-sheet
          ${no ? "text-fine text-ink-faint" : ""} ${here ? "outline-2 -outline-offset-2 outline-ink" : ""}`}
        onClick={(e) => onOpen(e.currentTarget)}
      >
        <span className="sr-only">{name}: </span>
        {no ? (
          <span className="block truncate">{cell.short}</span>
        ) : (
          <>
            <span className="number block whitespace-nowrap text-small">
              {cell.current_a !== null && `${cell.short} `}
              {cell.minutes?.toFixed(0)}
              <span className="unit">min</span>
            </span>
            {cell.verdict === "care" || cell.verdict === "unknown" ? (
              <span className="block text-fine leading-[13px] whitespace-nowrap text-ink-faint">
                {FIT_WORDS[cell.verdict]}
              </span>
            ) : (
              cell.adapters && <span className="block text-fine text-ink-faint">with adapter</span>
            )}
          </>
        )}
      </button>
    </td>
  );
}

function moveBetweenCells(event: KeyboardEvent<HTMLTableSectionElement>) {
  const steps: Record<string, [number, number]> = {
    ArrowRight: [0, 1],
    ArrowLeft: [0, -1],
    ArrowDown: [1, 0],
    ArrowUp: [-1, 0],
  };
  const step = steps[event.key];
  const cell = (event.target as HTMLElement).closest("td, th");
  const row = cell?.parentElement as HTMLTableRowElement | null;
  if (!step || !cell || !row) return;
  const body = event.currentTarget;
  const at = [...row.cells].indexOf(cell as HTMLTableCellElement) + step[1];
  const next = body.rows[[...body.rows].indexOf(row) + step[0]]?.cells[at]?.querySelector("button");
  if (next) {
    event.preventDefault();
    next.focus();
  }
}
