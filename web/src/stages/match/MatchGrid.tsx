import type { UseQueryResult } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { Popover } from "radix-ui";
import { useRef, useState } from "react";
import type { Grid, GridCell } from "@/api/types";
import { bare, loadingText, worded } from "@/format/quantity";
import { OwnNow } from "@/gear/OwnNow";
import { Failed } from "@/parts/Failed";
import { FIT_WORDS } from "@/parts/FitMark";
import { heat } from "@/parts/heat";
import { Room } from "@/parts/Room";
import { type Rows, useRows } from "@/parts/useRows";
import { Waiting } from "@/parts/Waiting";
import type { MatchChoice } from "@/stages/match/useMatchChoice";

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
  const list = useRows<HTMLTableSectionElement>(query.data?.packs.length ?? 0, ROW_PX);
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
      <p className="mt-0.5 text-plain text-ink-soft">
        Hatched: will not do, the first of a row’s like cells says why. Cut corner: goes, with care. Dashed:
        not known.
      </p>
      {grid.packs.length === 0 ? (
        <div className="mt-4">
          <OwnNow
            model={here}
            shows="No packs yet. Each would have a row here: how long it runs each model, and with how many
              amps each charger fills it."
          />
        </div>
      ) : (
        <div className="relative mt-3 overflow-x-auto pb-1">
          <table
            aria-rowcount={grid.packs.length + 1}
            className="w-full min-w-[72.5rem] table-fixed border-separate border-spacing-0 text-small"
          >
            <thead
              className="text-small [&_th]:border-b [&_th]:border-rule-strong [&_th]:px-2 [&_th]:py-1
              [&_th]:text-left [&_th]:align-bottom [&_th]:font-semibold"
            >
              <tr className="[&_th]:border-b-0 [&_th]:pb-0 [&_th]:text-fine [&_th]:font-normal">
                <td className="sticky left-0 w-40 bg-ground sm:w-48" />
                {grid.models.length > 0 && (
                  <th scope="colgroup" colSpan={grid.models.length}>
                    minutes of running
                  </th>
                )}
                {grid.chargers.length > 0 && (
                  <th
                    scope="colgroup"
                    colSpan={grid.chargers.length}
                    className="border-l border-l-rule-strong"
                  >
                    amps, minutes to charge
                  </th>
                )}
              </tr>
              <tr>
                <th scope="col" className="sticky left-0 w-40 bg-ground sm:w-48">
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
            <tbody ref={list.box} onKeyDown={list.onKeyDown} onFocus={list.onFocus}>
              <Room height={list.before} />
              {drawnRows(grid, list).map(([index, row]) => (
                <tr key={row.id} data-index={index} aria-rowindex={index + 2}>
                  <th
                    scope="row"
                    className={`sticky left-0 border-b border-hollow bg-ground px-2 py-0.5 text-left
                      font-normal ${row.id === pack ? "shadow-[inset_3px_0_0_var(--fjord)]" : ""}`}
                  >
                    <button
                      type="button"
                      tabIndex={list.tab(index)}
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
                        tab={list.tab(index)}
                        cell={cell}
                        again={likeBefore(row.models, i)}
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
                        tab={list.tab(index)}
                        first={i === 0}
                        cell={cell}
                        again={likeBefore(row.chargers, i)}
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
              <Room height={list.after} />
            </tbody>
          </table>
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

const ROW_PX = 37;

function drawnRows(grid: Grid, list: Rows<HTMLTableSectionElement>) {
  return list.shown.flatMap((index) => {
    const row = grid.packs[index];
    return row ? [[index, row] as const] : [];
  });
}

/** Refused for the same reason as the one before it in its row, which has said it. */
function likeBefore(cells: readonly GridCell[], i: number): boolean {
  const [cell, before] = [cells[i], cells[i - 1]];
  return cell?.verdict === "wont" && before?.verdict === "wont" && before.short === cell.short;
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
          {worded("minutes", cell.minutes)}; the hottest link at {loadingText(cell.loading)}.
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
  tab: 0 | -1;
  cell: GridCell;
  name: string;
  again: boolean;
  here: boolean;
  first?: boolean;
  onOpen: (button: HTMLButtonElement) => void;
};

function Cell({ tab, cell, name, again, here, first = false, onOpen }: CellProps) {
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
        tabIndex={tab}
        style={fill}
        className={`h-9 w-full overflow-hidden px-1.5 pb-1.25 text-left leading-3.25 hover:bg-sheet
          ${no ? "text-fine text-ink-faint" : ""} ${here ? "outline-2 -outline-offset-2 outline-ink" : ""}`}
        onClick={(e) => onOpen(e.currentTarget)}
      >
        <span className="sr-only">{name}: </span>
        {no ? (
          <span className={again ? "sr-only" : "block truncate"}>{cell.short}</span>
        ) : (
          <>
            <span className="number block whitespace-nowrap text-small">
              {cell.current_a !== null && <span className="mr-2">{cell.short}</span>}
              {bare("whole_minutes", cell.minutes)}
              <span className="sr-only"> min</span>
            </span>
            {cell.verdict === "care" && <span className="sr-only">{FIT_WORDS.care}</span>}
            {cell.verdict === "unknown" ? (
              <span className="block text-fine leading-3.25 whitespace-nowrap text-ink-faint">
                {FIT_WORDS.unknown}
              </span>
            ) : (
              cell.adapters && <span className="block text-fine text-ink-faint">adapter</span>
            )}
          </>
        )}
      </button>
    </td>
  );
}
