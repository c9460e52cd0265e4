import type { UseQueryResult } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import { memo, Suspense, useState } from "react";
import type { Change, Check, Detail, Job, Plan, Row } from "@/api/types";
import { useAct } from "@/app/act";
import { PACK_KINDS } from "@/app/choices";
import { TraceChart } from "@/charts/TraceChart";
import { usePreferences } from "@/format/preferences";
import { bare, between, rounded, shown, worded } from "@/format/quantity";
import { buyPack, changeVerb, removeGear } from "@/gear/queries";
import { Figure } from "@/parts/Figure";
import { FitMark } from "@/parts/FitMark";
import { Folded } from "@/parts/Folded";
import { lazyPart } from "@/parts/lazyPart";
import { Quantity } from "@/parts/Quantity";
import { Stack } from "@/parts/Stack";
import { Term } from "@/parts/Term";
import { Waiting } from "@/parts/Waiting";
import type { Chosen } from "@/stages/size/useChoice";

const PickedDrawn = lazyPart(() => import("@/drawings/PickedDrawn"));
const SensitivityCurves = lazyPart(() => import("@/charts/SensitivityCurves"));

type Props = {
  job: Job;
  query: UseQueryResult<Detail[]>;
  details: Detail[] | undefined;
  chosen: Chosen;
  shopping: NonNullable<Plan["shopping"]> | undefined;
  /** Its row in the list, which knows the others beside it. */
  row: Row | undefined;
};

/** The picked pack: its stack, its trace, what to set, and what to ask for in a shop. */
export function Picked({ job, query, details, chosen, shopping, row }: Props) {
  const detail = details?.[0];
  const { model } = useParams({ from: "/size/$model" });
  if (!detail)
    return (
      <section aria-label="The picked pack" className="px-5 py-5 text-ink-faint">
        {query.isFetching
          ? "Running the picked pack…"
          : query.error
            ? query.error.message
            : "Pick a pack in the field or the list."}
      </section>
    );
  return (
    <section
      aria-label="The picked pack"
      className="px-4 pb-6 pt-4 md:pl-6 md:pr-5"
      aria-busy={query.isFetching}
    >
      <Shown detail={detail} job={job} model={model} chosen={chosen} shopping={shopping} row={row} />
    </section>
  );
}

type ShownProps = Omit<Props, "query" | "details"> & { detail: Detail; model: string };

const Shown = memo(function Shown({ detail, job, model, chosen, shopping, row }: ShownProps) {
  const pinned = chosen.pins.includes(detail.id);
  return (
    <>
      <div className="flex items-start justify-between gap-2">
        <h2 className="text-lead font-semibold leading-5">{detail.name}</h2>
        <span className="flex shrink-0 gap-2">
          <Link
            to="/match/$model"
            params={{ model }}
            search={{ pack: detail.id }}
            className="primary px-2.5 py-1 text-small"
          >
            Match
          </Link>
          <button
            type="button"
            className="control text-small"
            aria-pressed={pinned}
            onClick={() => chosen.togglePin(detail.id)}
          >
            {pinned ? "Unpin" : "Pin"}
          </button>
        </span>
      </div>
      <About detail={detail} />
      <p className="mt-1.5 flex items-start gap-2 text-plain font-semibold leading-4.5">
        <span className="mt-0.5">
          <FitMark verdict={detail.fit.verdict} />
        </span>
        {detail.fit.sentence}
      </p>
      {detail.catalogue_id !== null && (
        <Decide id={detail.catalogue_id} name={detail.name} offered={detail.kind === "on offer"} />
      )}
      <div className="mt-3.5 md:pl-2">
        <Stack plates={detail.plates} label={`The stack of ${detail.name}, from cells to motor`} />
      </div>
      <div className="mt-3">
        <TraceChart lines={[{ name: detail.name, trace: detail.trace }]} height={128} />
      </div>
      <ToSet detail={detail} />
      <Widest detail={detail} />
      <Cost detail={detail} />
      {row && row.why_not.length > 0 && <WhyNot row={row} chosen={chosen} />}
      {shopping && (
        <p className="mt-3 text-small leading-4.5 text-ink-soft">
          <Figure working={shopping.working} label="Shopping line" className="font-semibold text-ink">
            If buying:
          </Figure>{" "}
          {shopping.line}.
        </p>
      )}
      <Cautions detail={detail} />
      <Folded
        printed
        name={<span className="text-plain font-semibold">In the bay, wired</span>}
        className="mt-3"
      >
        <Suspense>
          <PickedDrawn slug={model} job={job} pack={detail.id} />
        </Suspense>
      </Folded>
      <MoreFigures detail={detail} />
    </>
  );
});

/** Bought, and it is owned under the next tag; an offer can be thrown out. Both can be undone. */
function Decide({ id, name, offered }: { id: number; name: string; offered: boolean }) {
  const perform = useAct();
  // pressed twice it is done once
  const [busy, setBusy] = useState(false);
  const act = async (what: () => Promise<Change>) => {
    setBusy(true);
    await perform(changeVerb(what, "It could not be done."));
    setBusy(false);
  };
  return (
    <p className="mt-1.5 flex flex-wrap gap-x-4 text-plain">
      <button
        type="button"
        className="action min-h-6"
        disabled={busy}
        onClick={() => void act(async () => (await buyPack(id, "")).change)}
      >
        Bought: put it in my box<span className="sr-only"> ({name})</span>
      </button>
      {offered && (
        <button
          type="button"
          className="action min-h-6"
          disabled={busy}
          onClick={() => void act(() => removeGear("catalogue", id))}
        >
          Throw the offer out<span className="sr-only"> ({name})</span>
        </button>
      )}
    </p>
  );
}

function About({ detail }: { detail: Detail }) {
  const p = usePreferences();
  const layout = `${detail.series}S${detail.parallel > 1 ? `${detail.parallel}P` : ""}`;
  return (
    <p className="text-small text-ink-faint">
      <Term word="S">{layout}</Term> {detail.chemistry_name}, {PACK_KINDS[detail.kind]};{" "}
      {worded("charge", detail.capacity_ah * 1000, p)},{" "}
      <Figure working={detail.workings.mass} label="Mass">
        {worded("mass", detail.mass_g, p)}
      </Figure>
      ,{" "}
      <Figure working={detail.workings.full_v} label="Volts">
        {worded("voltage", detail.full_v, p)} full
      </Figure>
      ; {worded("resistance", detail.cell_mohm, p)} a cell,{" "}
      {detail.learnt_from
        ? `by its log ${detail.learnt_from}`
        : detail.measured
          ? "measured"
          : "from the label"}
    </p>
  );
}

function ToSet({ detail }: { detail: Detail }) {
  const { settings, workings } = detail;
  return (
    <div className="mt-2.5 grid grid-cols-4 border-y">
      <Setting name={detail.minutes >= 180 ? "it lasts" : "minutes"}>
        <Figure working={workings.minutes} label="Minutes" className="number text-lead">
          {bare("minutes", detail.minutes)}
        </Figure>
        <span className="number block text-fine text-ink-faint">
          {between("minutes", detail.minutes_low, detail.minutes_high)}
        </span>
      </Setting>
      <Setting name="timer">
        <Figure working={workings.timer} label="Timer" className="number text-lead">
          {settings.timer}
        </Figure>
      </Setting>
      <Setting name="to use">
        <Figure working={workings.budget} label="Charge to use">
          <Quantity kind="charge" value={settings.budget_mah} className="text-lead" />
        </Figure>
      </Setting>
      <Setting name="alarm, a cell">
        <Figure working={workings.alarm} label="Alarm">
          <span className="number text-lead">
            {bare("cell_voltage", settings.alarm_cell_v)}
            <span className="unit">V</span>
          </span>
        </Figure>
      </Setting>
    </div>
  );
}

/** What an hour of it costs, with the range of what is not known of its life. */
function Cost({ detail }: { detail: Detail }) {
  const p = usePreferences();
  if (detail.cost_per_h === null || detail.cost_low === null || detail.cost_high === null) return null;
  return (
    <p className="mt-2 text-small leading-4.5 text-ink-soft">
      <Figure working={detail.workings.cost} label="Cost of an hour" className="font-semibold text-ink">
        {worded("price", detail.cost_per_h, p)} an hour
      </Figure>{" "}
      <span className="number text-ink-faint">
        ({shown("price", detail.cost_low, p).text} to {shown("price", detail.cost_high, p).text})
      </span>
      , good for about {rounded(detail.cycles, 2)} cycles as the house uses packs.
    </p>
  );
}

/** The next cheaper, lighter and longer one, and what speaks against each. */
function WhyNot({ row, chosen }: { row: Row; chosen: Chosen }) {
  return (
    <section className="mt-3" aria-label="Why not another">
      <h3 className="heading">Why not another</h3>
      <ul className="mt-0.5 space-y-0.5 text-small leading-4.5 text-ink-soft">
        {row.why_not.map((w) => (
          <li key={w.by}>
            {w.sentence}{" "}
            <button type="button" className="action min-h-6" onClick={() => chosen.setPick(w.id)}>
              Show it
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Widest({ detail }: { detail: Detail }) {
  if (detail.minutes_high - detail.minutes_low < 0.1) return null;
  return <p className="mt-1 text-small text-ink-faint">Least known: the {detail.widest}.</p>;
}

function Setting({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div className="flex min-h-14 flex-col justify-between py-1.5 pr-1">
      <div>{children}</div>
      <small className="text-fine text-ink-faint">{name}</small>
    </div>
  );
}

function Cautions({ detail }: { detail: Detail }) {
  const wrong = detail.checks.filter((c) => c.verdict === "over" || (c.verdict === "caution" && !isPlate(c)));
  if (wrong.length + detail.cautions.length + detail.questions.length === 0) return null;
  return (
    <ul className="mt-3 space-y-1.5 text-small leading-4.25">
      {detail.lacks.length > 0 && (
        <li className="border-l-4 border-alert pl-2 font-semibold">
          Does not do the job: {detail.lacks.join("; ")}.
        </li>
      )}
      {wrong
        .filter((c) => c.verdict === "caution")
        .map((c) => (
          <li key={c.id} className="border-l-4 border-rule-strong pl-2 text-ink-soft">
            <span className="font-semibold text-ink">{c.title}.</span>{" "}
            {c.sentence.replace(`${c.title}: `, "")}
          </li>
        ))}
      {detail.questions.map((words) => (
        <li key={words} className="border-l-4 border-dashed border-rule-strong pl-2 text-ink-soft">
          {words}
        </li>
      ))}
      {detail.cautions.map((c) => (
        <li key={c.id} className="border-l-4 border-rule-strong pl-2 text-ink-soft">
          {c.sentence}
        </li>
      ))}
    </ul>
  );
}

function isPlate(check: Check): boolean {
  return check.id.endsWith(".continuous") || check.id.endsWith(".burst");
}

function MoreFigures({ detail }: { detail: Detail }) {
  const p = usePreferences();
  const s = detail.sensitivity;
  const signed = (v: number) => `${v >= 0 ? "+" : "−"}${worded("minutes", Math.abs(v))}`;
  const rows: [string, React.ReactNode][] = [
    [
      "Honest C, thermal C",
      <Figure key="c" working={detail.workings.honest_c} label="Honest C" className="number">
        {worded("c_rate", detail.honest_c)},{" "}
        {detail.thermal_c === null ? "—" : worded("c_rate", detail.thermal_c)}
      </Figure>,
    ],
    [
      "Peak on this pack",
      <Figure key="p" working={detail.workings.peak} label="Peak current" className="number">
        {worded("current", detail.peak_a, p)}
      </Figure>,
    ],
    [
      "Cells when landing",
      <Figure key="t" working={detail.workings.temperature} label="Cell temperature" className="number">
        {worded("temperature", detail.end_temperature_c, p)}
      </Figure>,
    ],
    [
      `${worded("mass", s.extra_mass_g, p)} more of the same`,
      <Figure key="m" working={detail.workings.mass} label="Effect of more mass" className="number">
        {signed(s.extra_minutes)}
      </Figure>,
    ],
    [
      `${worded("temperature_step", 10, p)} colder`,
      <Figure
        key="k"
        working={detail.workings.colder}
        label={`${worded("temperature_step", 10, p)} colder`}
        className="number"
      >
        {signed(s.ten_colder)}
      </Figure>,
    ],
  ];
  if (s.one_more_cell !== null)
    rows.push([
      "One more cell in series",
      <Figure key="s" working={detail.workings.one_more_cell} label="One more cell" className="number">
        {signed(s.one_more_cell)}
      </Figure>,
    ]);
  if (s.turning_mass_g !== null)
    rows.push([
      "More of it runs shorter past",
      <Figure key="g" working={detail.workings.mass} label="Where more runs shorter" className="number">
        {worded("mass", rounded(s.turning_mass_g, 2), p)}
      </Figure>,
    ]);
  if (detail.position_mm !== null)
    rows.push([
      "Pack’s middle, to balance",
      <Figure key="x" working={detail.workings.position} label="Where the pack must lie" className="number">
        {worded("length", detail.position_mm, p)}
      </Figure>,
    ]);
  return (
    <Folded
      printed
      name={<span className="text-plain font-semibold">More of it, and what the minutes hang on</span>}
      className="mt-3"
    >
      <dl className="mt-1 text-plain">
        {rows.map(([name, value]) => (
          <div key={name} className="flex items-baseline justify-between gap-3 py-0.5">
            <dt className="label">{name}</dt>
            <dd className="text-small">{value}</dd>
          </div>
        ))}
      </dl>
      <Suspense fallback={<Waiting words="Drawing…" />}>
        <SensitivityCurves detail={detail} />
      </Suspense>
    </Folded>
  );
}
