import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "@tanstack/react-router";
import { Suspense } from "react";
import { answered, client } from "@/api/client";
import { ApiProblem, nothingOf } from "@/api/problem";
import type { PackPage, Working } from "@/api/types";
import { useAct } from "@/app/act";
import { YearChart } from "@/charts/YearChart";
import { ownedId } from "@/format/packId";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { inWords } from "@/format/sentence";
import { dateWords } from "@/format/time";
import { IsItNow } from "@/gear/IsItNow";
import { changeVerb } from "@/gear/queries";
import { useAsSaid } from "@/life/asSaid";
import { LookPart } from "@/life/LookPart";
import { Failed } from "@/parts/Failed";
import { Figure } from "@/parts/Figure";
import { FitMark } from "@/parts/FitMark";
import { Folded } from "@/parts/Folded";
import { lazyPart } from "@/parts/lazyPart";
import { PackState } from "@/parts/PackState";
import { Waiting } from "@/parts/Waiting";
import { CheckPart } from "@/stages/keep/CheckPart";
import { LearntPart } from "@/stages/keep/LearntPart";
import { LifePart } from "@/stages/keep/LifePart";
import { NotesPart } from "@/stages/keep/NotesPart";
import { pageQuery } from "@/stages/keep/queries";
import { RetirePart } from "@/stages/keep/RetirePart";
import { StoragePart } from "@/stages/keep/StoragePart";

const CellsPart = lazyPart(() => import("@/drawings/CellsPart"));

const LEVELS = {
  fine: "fine",
  again: "read again",
  watch: "watch",
  light: "act",
  retire: "condemned",
} as const;

/** A pack's page: the verdict and its evidence, resistance and capacity over time, how to retire it. */
export function PackPanel({ tag }: { tag: string }) {
  const p = usePreferences();
  const { data: page, error, refetch } = useQuery(pageQuery(tag));
  if (nothingOf(page, error))
    return error instanceof ApiProblem && error.status === 404 ? (
      <p className="px-6 py-6">There is no pack {tag} in the box.</p>
    ) : (
      <Failed error={error} onRetry={() => void refetch()} className="px-6 py-6" />
    );
  if (!page) return <Waiting words={`Looking at pack ${tag}…`} className="px-6 py-6" />;
  return (
    <article aria-label={`Pack ${tag}`} className="px-4 py-4 md:px-6">
      <Link
        from="/keep/$model"
        search={(old) => ({ ...old, pack: undefined })}
        className="action mb-2 inline-block text-plain lg:hidden"
      >
        Back to the shelf
      </Link>
      <Head page={page} />
      {page.line.state === "quarantined" && page.line.level !== "retire" && (
        <p className="mt-2 border-l-4 border-alert pl-2 font-medium">{page.line.bars}</p>
      )}
      <div className="print-hidden mt-2 text-plain">
        <LookPart tag={tag} lookedAt={page.line.looked_at} signs={page.line.signs} />
      </div>
      <div className="mt-3">
        <Suspense fallback={<div className="min-h-56" />}>
          <CellsPart tag={page.line.tag} pins />
        </Suspense>
      </div>
      <InModels page={page} />
      <AtTheBench page={page} />
      <IsItNow tag={page.line.tag} />
      <LearntPart page={page} />
      <StoragePart page={page} />
      <Evidence page={page} />
      <div className="mt-5 grid grid-cols-1 gap-6">
        <YearChart
          title={`Resistance of each cell at ${worded("temperature", 25, p)}`}
          unit="mΩ"
          series={page.resistance}
          firstName="its own first"
        />
        {page.left_out > 0 && (
          <p className="-mt-4 text-small text-ink-faint">
            {page.left_out} reading{page.left_out === 1 ? "" : "s"} left out: not at a like charge or
            temperature.
          </p>
        )}
        <YearChart title="Capacity returned" unit="Ah" series={page.capacity} firstName="the label" single />
        <div className="grid grid-cols-1 gap-6 xl:grid-cols-2">
          <YearChart title="Honest C" unit="C" series={page.honest} firstName="printed" single />
          {page.series > 1 && (
            <YearChart
              title="Cells apart at rest"
              unit="mV"
              series={page.spread_mv}
              firstName="watch from here"
              single
            />
          )}
        </div>
      </div>
      <Runs page={page} />
      <CheckPart page={page} />
      <NotesPart page={page} />
      <LifePart page={page} />
      <RetirePart page={page} />
    </article>
  );
}

function Head({ page }: { page: PackPage }) {
  const p = usePreferences();
  const { model } = useParams({ from: "/keep/$model" });
  const asSaid = useAsSaid();
  const line = asSaid(page.line);
  const act = useAct();
  const navigate = useNavigate();
  const giveBack = async () => {
    const params = { path: { tag: line.tag } };
    const gave = changeVerb(
      () => answered(client.POST("/api/lent/{tag}/back", { params })),
      "It could not be given back.",
    );
    if (await act(gave)) await navigate({ to: "/keep/$model", params: { model } });
  };
  return (
    <>
      <h2 className="text-title font-semibold">
        <span className="number">{line.tag}</span> {line.name}
      </h2>
      <p className="mt-0.5 flex flex-wrap items-baseline gap-x-4 text-plain text-ink-soft">
        <span>
          {page.chemistry_name} {page.series}S, {worded("capacity", page.capacity_ah, p)}
        </span>
        <span>
          {page.cycles} charge{page.cycles === 1 ? "" : "s"}
        </span>
        <PackState now={line} />
        {page.note && <em>“{page.note}”</em>}
      </p>
      <p className="print-hidden mt-1 flex flex-wrap items-baseline gap-x-4 text-plain">
        {line.may.run?.allowed && page.models.some((m) => m.slug === model && m.runs) && (
          <Link to="/run/$model" params={{ model }} search={{ pack: line.tag }} className="action">
            Run it
          </Link>
        )}
        <Link to="/match/$model" params={{ model }} search={{ pack: ownedId(line.tag) }} className="action">
          What it fits
        </Link>
        <Link to="/tags" search={{ packs: [line.tag] }} className="action">
          Its tag to print
        </Link>
        <button type="button" className="action" onClick={() => window.print()}>
          Print this page
        </button>
        {page.lent && (
          <button type="button" className="action" onClick={() => void giveBack()}>
            Given back
          </button>
        )}
      </p>
      {line.here && (
        <p className="mt-2 border-l-4 border-alert pl-2 font-medium">
          {line.here.words} What is below does not know of it.
        </p>
      )}
      <p className="mt-3 text-title font-semibold leading-7">
        {line.verdict}
        {page.retired && <span className="text-plain font-normal">, {dateWords(page.retired)}</span>}
        {page.past && <span className="block text-plain font-normal">{page.past}</span>}
      </p>
      <p className="text-ink-soft">
        {line.sign || (page.evidence.length > 0 ? "No sign of anything wrong." : "")}{" "}
        <Figure working={page.workings.forecast} label="Cycles left" className="text-left">
          {page.forecast}
        </Figure>
      </p>
      {page.left_full && (
        <p className="mt-1 font-medium">
          <Figure working={page.workings.left_full} label="Left full" className="text-left">
            {page.left_full}
          </Figure>
        </p>
      )}
      {page.cost && (
        <p className="mt-1 text-plain text-ink-soft">
          It has cost {p.currency} {page.cost}
        </p>
      )}
      <dl className="mt-3 grid grid-cols-3 gap-x-4">
        <Fact
          name="honest C now"
          value={page.honest_c === null ? "–" : worded("c_rate", page.honest_c, p)}
          working={page.workings.honest_c}
        />
        <Fact name="printed C" value={page.label_c === null ? "none" : worded("c_rate", page.label_c, p)} />
        <Fact
          name="of its label held"
          value={page.capacity_share === null ? "–" : worded("percent", page.capacity_share, p)}
          working={page.evidence.find((e) => e.id === "capacity")?.working}
        />
      </dl>
    </>
  );
}

function Fact({ name, value, working }: { name: string; value: string; working?: Working | undefined }) {
  return (
    <div className="flex flex-col-reverse">
      <dt className="text-small text-ink-faint">{name}</dt>
      <dd className="number text-lead font-semibold">
        <Figure working={working} label={name}>
          {value}
        </Figure>
      </dd>
    </div>
  );
}

/** What a pack past flying still runs, watched, on something that does not burn. */
function AtTheBench({ page }: { page: PackPage }) {
  if (page.bench.length === 0 || page.retired) return null;
  return (
    <section aria-label="At the bench" className="mt-4">
      <h3 className="heading">At the bench it still runs</h3>
      <ul className="mt-1 text-plain">
        {page.bench.map((u) => (
          <li key={u.name} className="border-b py-0.5">
            {u.words}
          </li>
        ))}
      </ul>
      <p className="mt-1 text-small text-ink-faint">
        Watched, on something that does not burn, with an alarm on the balance lead; never in the air.
      </p>
    </section>
  );
}

/** What it is in each of the models: the verdict that Size, Match and Run give too. */
function InModels({ page }: { page: PackPage }) {
  if (page.models.length === 0 || page.retired) return null;
  const runs = page.models.filter((m) => m.fit !== "wont");
  const not = page.models.filter((m) => m.fit === "wont");
  return (
    <section aria-label="In my models" className="mt-4">
      <h3 className="heading">In my models</h3>
      {runs.length > 0 && <ModelLines models={runs} tag={page.line.tag} />}
      {not.length > 0 && (
        <Folded
          printed
          name={`Not in ${not.map((m) => m.name).join(", ")}`}
          className="text-plain text-ink-faint"
        >
          <ModelLines models={not} tag={page.line.tag} />
        </Folded>
      )}
    </section>
  );
}

function ModelLines({ models, tag }: { models: PackPage["models"]; tag: string }) {
  const p = usePreferences();
  return (
    <ul className="mt-1 divide-y divide-hollow text-plain">
      {models.map((m) => (
        <li key={m.slug} className="grid grid-cols-[7rem_minmax(0,1fr)_auto] items-baseline gap-x-2 py-1">
          <Link
            to="/match/$model"
            params={{ model: m.slug }}
            search={{ pack: ownedId(tag) }}
            className="action truncate"
          >
            {m.name}
          </Link>
          <span className={m.fit === "wont" ? "text-ink-faint" : ""}>
            <span className="mr-1.5 inline-block align-middle">
              <FitMark verdict={m.fit} />
            </span>
            {m.sentence}
          </span>
          <span className="number text-small text-ink-soft">
            {m.runs ? worded("minutes", m.minutes, p) : ""}
          </span>
        </li>
      ))}
    </ul>
  );
}

/** What speaks against it stands; what is fine is one line, that opens. */
function Evidence({ page }: { page: PackPage }) {
  const minded = page.evidence.filter((e) => e.level !== "fine");
  const fine = page.evidence.filter((e) => e.level === "fine");
  return (
    <section aria-label="Evidence" className="mt-5">
      <h3 className="heading">Evidence</h3>
      <Signs signs={minded} />
      {page.too_early.length > 0 && (
        <p className="mt-1 text-small text-ink-faint">Too early to say: {page.too_early.join("; ")}.</p>
      )}
      {fine.length + page.changes.length > 0 && (
        <Folded printed name={finely(fine.length, minded.length)} className="mt-1 text-plain">
          <Signs signs={fine} />
          <Changes page={page} />
        </Folded>
      )}
    </section>
  );
}

function finely(fine: number, minded: number): string {
  if (fine === 0) return "What changed";
  const signs = `${fine} sign${fine === 1 ? "" : "s"}`;
  return minded === 0 ? `${signs}, ${fine === 1 ? "" : "all "}fine` : `${signs} fine`;
}

function Signs({ signs }: { signs: PackPage["evidence"] }) {
  if (signs.length === 0) return null;
  return (
    <ul className="mt-1 divide-y divide-hollow">
      {signs.map((e) => (
        <li key={e.id} className="grid grid-cols-[5.5rem_minmax(0,1fr)] gap-x-2 py-1">
          <span className={`text-small ${e.level === "fine" ? "text-ink-faint" : "font-semibold"}`}>
            {LEVELS[e.level]}
          </span>
          <Figure
            working={e.working.steps.length > 0 ? e.working : undefined}
            label={e.working.title}
            className={`text-left ${e.level === "fine" ? "text-ink-soft" : "font-medium"}`}
          >
            {e.sentence}
          </Figure>
        </li>
      ))}
    </ul>
  );
}

/** First beside now, and since when a sign stands. */
function Changes({ page }: { page: PackPage }) {
  if (page.changes.length === 0) return null;
  return (
    <section aria-label="What changed" className="mt-3">
      <h3 className="heading">What changed, and since when</h3>
      <div className="overflow-x-auto">
        <table className="mt-1 w-full text-plain">
          <thead className="text-small text-ink-faint">
            <tr>
              <th scope="col">
                <span className="sr-only">What</span>
              </th>
              <th scope="col" className="pr-2 text-right font-normal">
                at first
              </th>
              <th scope="col" className="pr-3 text-right font-normal">
                now
              </th>
              <th scope="col" className="text-left font-normal">
                since when
              </th>
            </tr>
          </thead>
          <tbody className="divide-y divide-hollow">
            {page.changes.map((c) => (
              <tr key={c.id} className={c.level === "fine" ? "text-ink-soft" : "font-medium"}>
                <th
                  scope="row"
                  className={`py-1 pr-3 text-left ${c.level === "fine" ? "font-normal" : "font-medium"}`}
                >
                  {c.name}
                </th>
                <td className="number py-1 pr-2 text-right whitespace-nowrap">{c.first}</td>
                <td className="number py-1 pr-3 text-right whitespace-nowrap">{c.now}</td>
                <td className="py-1 text-small">
                  {c.since
                    ? `${LEVELS[c.level]} since ${c.before_that ? "before " : ""}${dateWords(c.since)}`
                    : `fine since ${dateWords(c.first_at)}`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

function Runs({ page }: { page: PackPage }) {
  const p = usePreferences();
  if (page.run_count === 0) return null;
  return (
    <section aria-label="Its runs" className="mt-6 border-t pt-3">
      <h3 className="heading">
        {page.run_count} run{page.run_count === 1 ? "" : "s"}, {worded("minutes", page.run_minutes, p)} in all
      </h3>
      <ul className="mt-1 divide-y divide-hollow text-plain">
        {page.runs.map((r) => (
          <li key={r.at + r.minutes} className="flex flex-wrap items-baseline gap-x-4 py-1">
            <time className="number text-small text-ink-faint" dateTime={r.at}>
              {dateWords(r.at)}
            </time>
            <span>{r.model}</span>
            <span className="number">{worded("minutes", r.minutes, p)}</span>
            {r.put_back_mah !== null && (
              <span className="text-ink-soft">{worded("charge", r.put_back_mah, p)} put back</span>
            )}
            {r.question && (
              <span className="basis-full border-l-4 border-alert pl-2 text-small">
                {inWords(r.question.sentence)}
              </span>
            )}
            {r.landing_cell_v !== null && (
              <span className="text-ink-faint">
                landed at {worded("cell_voltage", r.landing_cell_v)} a cell
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
