import { useQuery } from "@tanstack/react-query";
import { memo, useState } from "react";
import type { Aim, Job, Plan, Row } from "@/api/types";
import { choicesQuery } from "@/app/queries";
import { usePreferences } from "@/format/preferences";
import { bare, between, loadingText, shown, unitOf, worded } from "@/format/quantity";
import { Figure } from "@/parts/Figure";
import { FIT_WORDS, FitMark } from "@/parts/FitMark";
import { heat } from "@/parts/heat";
import { detailsQuery } from "@/stages/size/queries";
import type { Chosen } from "@/stages/size/useChoice";

type Props = {
  plan: Plan;
  slug: string;
  job: Job;
  chosen: Chosen;
  pickId: string | undefined;
  /** Whether every pack that does the job is listed, or the best few. */
  all: boolean;
  onAll: (all: boolean) => void;
};

/** So many rows where nothing else is asked for. */
const SHORT = 7;

/** "The best 7 of 23 that do the job": the list is of those that the headline counts. */
function countWords(plan: Plan): string {
  const shown = plan.shortlist.length;
  if (plan.able_count === 0) return shown > 0 ? "Made-up packs that would do" : "Shortlist";
  return shown < plan.able_count ? `The best ${shown} of ${plan.able_count}` : `All ${plan.able_count}`;
}

/** The best few with their reasons, then what the nearest misses lack. Arrow keys go through the rows. */
export const Shortlist = memo(function Shortlist({ plan, slug, job, chosen, pickId, all, onAll }: Props) {
  const { data: choices } = useQuery(choicesQuery);
  const p = usePreferences();
  const listed = new Set([...plan.shortlist, ...plan.misses].map((row) => row.id));
  const offers = plan.offers.filter((row) => !listed.has(row.id));
  const ids = [...plan.shortlist, ...plan.misses, ...offers].map((row) => row.id);
  const stop = pickId && ids.includes(pickId) ? pickId : ids[0];
  const costs = [...plan.shortlist, ...plan.misses, ...offers].some((row) => row.cost_per_h !== null);
  const tab = (id: string) => (id === stop ? 0 : -1);
  return (
    <div className="relative mt-4 overflow-x-auto">
      <div className="flex items-center justify-between gap-3 pb-1">
        <label className="flex items-baseline gap-2">
          <span className="heading">{countWords(plan)}, by</span>
          <select
            aria-label="Shortlist by"
            className="min-h-6 cursor-pointer bg-transparent font-semibold text-fjord [&>option]:bg-sheet
              [&>option]:text-ink"
            value={chosen.aim}
            onChange={(e) => chosen.setAim(e.target.value as Aim)}
          >
            {(choices?.aims ?? [{ id: chosen.aim, name: "Best for its weight" }]).map((a) => (
              <option key={a.id} value={a.id}>
                {a.name}
              </option>
            ))}
          </select>
        </label>
        {plan.able_count > SHORT && (
          <button type="button" className="action ml-auto min-h-6 text-small" onClick={() => onAll(!all)}>
            {all ? "Only the best" : `Show all ${plan.able_count}`}
          </button>
        )}
        {chosen.pins.length > 0 && (
          <button
            type="button"
            className="control whitespace-nowrap text-small"
            disabled={chosen.pins.length < 2}
            onClick={() => chosen.setComparing(true)}
          >
            {chosen.pins.length < 2
              ? "1 pinned: pin another to compare"
              : `Compare ${chosen.pins.length} pinned`}
          </button>
        )}
      </div>
      <table className="w-full border-collapse text-plain">
        <thead className="head">
          <tr>
            <th scope="col" className="w-[38%] pl-2 text-left">
              Pack
            </th>
            <th scope="col" className="hidden px-2 text-right sm:table-cell">
              mAh
            </th>
            <th scope="col" className="px-2 text-right">
              {unitOf("mass", p)}
            </th>
            <th scope="col" className="px-2 text-right">
              {job.equipment ? "lasts, range" : "minutes, range"}
            </th>
            {costs && (
              <th scope="col" className="hidden px-2 text-right sm:table-cell">
                {unitOf("price", p)} an hour
              </th>
            )}
            <th scope="col" className="px-2 text-right">
              hottest
            </th>
            <th scope="col" className="hidden px-2 text-left md:table-cell">
              link, or why
            </th>
            <th scope="col">
              <span className="sr-only">Pin</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {plan.shortlist.map((row) => (
            <Line
              key={row.id}
              row={row}
              slug={slug}
              job={job}
              chosen={chosen}
              picked={row.id === pickId}
              costs={costs}
              tab={tab(row.id)}
            />
          ))}
          {plan.misses.length > 0 && (
            <tr>
              <th scope="rowgroup" colSpan={costs ? 8 : 7} className="heading pb-1 pl-2 pt-4 text-left">
                Near misses, by what they lack
              </th>
            </tr>
          )}
          {plan.misses.map((row) => (
            <Line
              key={row.id}
              row={row}
              slug={slug}
              job={job}
              chosen={chosen}
              picked={row.id === pickId}
              costs={costs}
              tab={tab(row.id)}
              miss
            />
          ))}
          {offers.length > 0 && (
            <tr>
              <th scope="rowgroup" colSpan={costs ? 8 : 7} className="heading pb-1 pl-2 pt-4 text-left">
                Also on offer
                {plan.offers_left_out > 0 &&
                  `; ${plan.offers_left_out} more ${
                    plan.offers_left_out === 1 ? "has" : "have"
                  } other cells or another chemistry than chosen`}
              </th>
            </tr>
          )}
          {offers.map((row) => (
            <Line
              key={row.id}
              row={row}
              slug={slug}
              job={job}
              chosen={chosen}
              picked={row.id === pickId}
              costs={costs}
              tab={tab(row.id)}
              miss={row.lacks.length > 0}
            />
          ))}
          {offers.length === 0 && plan.offers_left_out > 0 && (
            <tr>
              <td colSpan={costs ? 8 : 7} className="pt-3 pl-2 text-ink-faint">
                {plan.offers_left_out === 1 ? "1 offer has" : `${plan.offers_left_out} offers have`} other
                cells or another chemistry than chosen.
              </td>
            </tr>
          )}
          {plan.shortlist.length + plan.misses.length === 0 && (
            <tr>
              <td colSpan={costs ? 8 : 7} className="py-3 pl-2 text-ink-faint">
                Nothing comes near. Loosen a want, or choose other cells.
              </td>
            </tr>
          )}
        </tbody>
      </table>
    </div>
  );
});

type LineProps = {
  row: Row;
  slug: string;
  job: Job;
  chosen: Chosen;
  picked: boolean;
  /** Whether any row has a price, so that there is a column for it. */
  costs: boolean;
  /** The tab key stops at one row; the arrows go on from there. */
  tab: 0 | -1;
  miss?: boolean;
};

function Line({ row, slug, job, chosen, picked, costs, tab, miss = false }: LineProps) {
  const p = usePreferences();
  const [asked, setAsked] = useState(false);
  const { data } = useQuery({ ...detailsQuery(slug, job, [row.id]), enabled: asked });
  const detail = data?.[0]?.id === row.id ? data[0] : undefined;
  const ask = () => setAsked(true);
  const pinned = chosen.pins.includes(row.id);
  // the verdict is core's; where it simply does the job its hottest link is told
  const does = row.fit.verdict === "does";
  const all = miss ? row.lacks.join("; ") : row.fit.sentence;
  const others = row.lacks.length > 1 ? `, +${row.lacks.length - 1}` : "";
  const lack = row.fit.verdict === "wont" ? row.fit.short : (row.lacks[0] ?? row.fit.short);
  const said = does && !miss ? row.reason : `${lack}${others}`;
  const short = row.fragile ? `${said}; may stop at a peak` : said;
  const why = (
    <span title={all}>
      {!miss && !does && (
        <span className="mr-1.5 inline-block align-middle">
          <FitMark verdict={row.fit.verdict} />
          <span className="sr-only">{FIT_WORDS[row.fit.verdict]}: </span>
        </span>
      )}
      {short}
    </span>
  );
  return (
    <tr
      className={`border-b border-hollow ${picked ? "bg-sheet shadow-[inset_3px_0_0_var(--fjord)]" : ""}
        ${miss ? "text-ink-faint" : ""}`}
    >
      <th scope="row" className="py-1 pl-2 text-left font-normal">
        <button
          type="button"
          tabIndex={tab}
          aria-pressed={picked}
          className="flex min-h-6 items-center gap-1.5 text-left hover:text-fjord"
          onClick={() => chosen.setPick(row.id)}
          onKeyDown={(e) => moveBetweenRows(e)}
        >
          <svg width="9" height="9" className="shrink-0" aria-hidden="true">
            <rect
              width="9"
              height="9"
              rx="1"
              fill={heat(row.loading)}
              stroke="var(--rule-strong)"
              strokeWidth="0.5"
            />
          </svg>
          <span>
            {row.name}
            {row.runs_on_it && <span className="font-semibold text-fjord"> · it runs on this now</span>}
            {row.kind === "owned" && !row.runs_on_it && <span className="text-ink-faint"> · owned</span>}
            {row.kind === "on offer" && (
              <span className="text-ink-faint">
                {" "}
                · on offer{row.price !== null && `, ${worded("price", row.price, p)}`}
              </span>
            )}
          </span>
        </button>
        <span className="block pl-4 text-small text-ink-faint md:hidden">{why}</span>
      </th>
      <td className="number hidden whitespace-nowrap px-2 text-right text-small sm:table-cell">
        <Figure tab={tab} working={detail?.workings.budget} onAsk={ask} label="Charge to use">
          {shown("charge", row.capacity_mah, p).text}
        </Figure>
      </td>
      <td className="number px-2 text-right text-small">
        <Figure tab={tab} working={detail?.workings.mass} onAsk={ask} label="Mass">
          {shown("mass", row.mass_g, p).text}
        </Figure>
      </td>
      <td className="number whitespace-nowrap px-2 text-right text-small">
        <Figure tab={tab} working={detail?.workings.minutes} onAsk={ask} label="Minutes">
          {bare("minutes", row.minutes)}
          <span className="text-fine text-ink-faint max-sm:block sm:ml-1.5">
            {between("minutes", row.minutes_low, row.minutes_high)}
          </span>
        </Figure>
      </td>
      {costs && (
        <td className="number hidden px-2 text-right text-small sm:table-cell">
          {row.cost_per_h === null ? (
            <span className="text-ink-faint">—</span>
          ) : (
            <Figure tab={tab} working={detail?.workings.cost} onAsk={ask} label="Cost of an hour">
              {shown("price", row.cost_per_h, p).text}
            </Figure>
          )}
        </td>
      )}
      <td className="number px-2 text-right text-small">
        <Figure
          tab={tab}
          working={detail?.plates.find((plate) => plate.weakest)?.leading.working}
          onAsk={ask}
          label="Hottest link"
        >
          {loadingText(row.loading)}
        </Figure>
      </td>
      <td className="hidden px-2 text-small text-ink-soft md:table-cell">{why}</td>
      <td className="print-hidden w-8 text-right">
        <button
          type="button"
          tabIndex={tab}
          aria-pressed={pinned}
          aria-label={`${pinned ? "Unpin" : "Pin"} ${row.name}`}
          title={pinned ? "Unpin" : "Pin, to compare"}
          className={`h-6 min-w-7 px-1 ${pinned ? "text-fjord" : "text-ink-faint hover:text-fjord"}`}
          onClick={() => chosen.togglePin(row.id)}
        >
          <svg viewBox="0 0 12 16" width="12" height="16" aria-hidden="true" className="mx-auto">
            <path
              d="M6 15V9.5M2.5 9.5h7M4 9.5V2h4v7.5M3 2h6"
              fill={pinned ? "currentColor" : "none"}
              stroke="currentColor"
              strokeWidth="1.3"
            />
          </svg>
        </button>
      </td>
    </tr>
  );
}

function moveBetweenRows(event: React.KeyboardEvent<HTMLButtonElement>) {
  if (event.key !== "ArrowDown" && event.key !== "ArrowUp") return;
  const row = event.currentTarget.closest("tr");
  const next = event.key === "ArrowDown" ? row?.nextElementSibling : row?.previousElementSibling;
  const button = next?.querySelector<HTMLButtonElement>("th button");
  if (button) {
    event.preventDefault();
    button.focus();
    button.click();
  }
}
