import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { wordsOf } from "@/api/problem";
import type { Box } from "@/api/types";
import { Buying } from "@/box/Buying";
import { boxQuery } from "@/box/queries";
import { wholeMinutes } from "@/format/quantity";
import { FIT_WORDS, FitMark } from "@/parts/FitMark";
import { StageWaiting } from "@/parts/StageWaiting";
import { useTitle } from "@/parts/useTitle";

/** The box as a whole: who serves what, what to buy, what would be missed, one plug for all, the chargers. */
export function BoxScreen() {
  useTitle("The box");
  const { data, error } = useQuery(boxQuery);
  if (error)
    return (
      <main className="px-4 py-6 md:px-6">
        <h1 className="text-title font-semibold">The box</h1>
        <p role="alert" className="mt-2 text-alert">
          {wordsOf(error, "The box could not be looked through.")}
        </p>
      </main>
    );
  if (!data) return <StageWaiting heading="The box" words="Trying every pack in every model…" />;
  return (
    <main className="mx-auto w-full max-w-6xl flex-1 px-4 py-5 md:px-6">
      <h1 className="sr-only">The box</h1>
      <p className="text-title font-semibold leading-7">{data.headline}</p>
      {data.models.length === 0 || data.packs.length === 0 ? (
        <Empty box={data} />
      ) : (
        <>
          <p className="mt-0.5 max-w-prose text-ink-faint">
            On a day on which all models are out, each pack charged at home before:{" "}
            {wholeMinutes(data.minutes)} of running a month, of {wholeMinutes(data.wanted_minutes)} that are
            wanted.
          </p>
          <div className="mt-5 grid gap-x-12 gap-y-8 lg:grid-cols-[minmax(0,1fr)_24rem]">
            <div className="min-w-0">
              <Models box={data} />
              <Packs box={data} />
            </div>
            <div>
              <Buying box={data} />
              <Chargers box={data} />
            </div>
          </div>
          <Plugs box={data} />
        </>
      )}
    </main>
  );
}

function Empty({ box }: { box: Box }) {
  return (
    <p className="mt-2">
      {box.models.length === 0 ? (
        <Link to="/new" className="primary inline-block">
          Begin with a model
        </Link>
      ) : (
        <Link to="/gear/$kind" params={{ kind: "packs" }} className="primary inline-block">
          Put packs into the box
        </Link>
      )}
    </p>
  );
}

function Models({ box }: { box: Box }) {
  return (
    <section aria-label="Models">
      <h2 className="heading">For a day with all out</h2>
      <ul className="mt-1 divide-y border-y text-plain">
        {box.models.map((m) => (
          <li key={m.slug} className="grid grid-cols-[8rem_minmax(0,1fr)_auto] items-baseline gap-x-3 py-1.5">
            <Link to="/size/$model" params={{ model: m.slug }} className="action truncate">
              {m.name}
            </Link>
            <span
              className={
                m.by === "assumed" ? "text-ink-faint underline decoration-dashed underline-offset-4" : ""
              }
            >
              {m.often}
            </span>
            <span className={m.short > 0 ? "font-semibold" : "text-ink-soft"}>
              {m.short > 0
                ? `${m.short} of ${m.runs_a_day} runs without a pack`
                : `${m.able} ${packs(m.able)} run it`}
            </span>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-small text-ink-faint">
        How often a model is run is said in Size, under what you want; else its log tells it.
      </p>
    </section>
  );
}

function Packs({ box }: { box: Box }) {
  return (
    <section aria-label="Packs" className="mt-8">
      <h2 className="heading">Which pack serves what</h2>
      <p className="mt-0.5 text-plain">
        {box.two.length > 0 ? `Two models or more: ${box.two.join(", ")}. ` : "None serves two models. "}
        {box.none.length > 0 && `No model: ${box.none.join(", ")}. `}
        {box.spare.length > 0 && `Not missed on such a day: ${box.spare.join(", ")}.`}
      </p>
      <div className="mt-2 overflow-x-auto">
        <table className="w-full border-collapse text-small">
          <thead className="text-left text-ink-faint">
            <tr>
              <th scope="col" className="pr-3 font-normal">
                Pack
              </th>
              {box.models.map((m) => (
                <th key={m.slug} scope="col" className="px-1 pb-1 align-bottom font-normal">
                  <span className="inline-block max-w-16 truncate align-bottom" title={m.name}>
                    {m.name}
                  </span>
                </th>
              ))}
              <th scope="col" className="pl-3 text-right font-normal">
                Missed a month
              </th>
            </tr>
          </thead>
          <tbody>
            {box.packs.map((p) => (
              <tr key={p.tag} className="border-t border-hollow">
                <th scope="row" className="max-w-48 truncate py-0.5 pr-3 text-left font-normal">
                  <span className="number font-semibold">{p.tag}</span> {p.name}
                </th>
                {p.verdicts.map((v, k) => (
                  <td key={box.models[k]?.slug} className="px-1 py-1">
                    {v === "wont" ? (
                      <span className="text-ink-faint">
                        <span aria-hidden="true">·</span>
                        <span className="sr-only">{FIT_WORDS[v]}</span>
                      </span>
                    ) : (
                      <span
                        className={
                          p.runs === box.models[k]?.name ? "inline-block border-b-2 border-ink pb-0.5" : ""
                        }
                      >
                        <FitMark verdict={v} />
                        <span className="sr-only">
                          {FIT_WORDS[v]}
                          {p.runs === box.models[k]?.name && ", runs it on that day"}
                        </span>
                      </span>
                    )}
                  </td>
                ))}
                <td className="number whitespace-nowrap pl-3 text-right">
                  {p.lost_minutes < 1 ? "—" : wholeMinutes(p.lost_minutes)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="mt-1 text-small text-ink-faint">
        Underlined: the model that it runs on that day. The last column is what would be run less without it,
        sold or retired.
      </p>
    </section>
  );
}

function Chargers({ box }: { box: Box }) {
  if (!box.waits) return null;
  const { done_min, last, on, waits_min } = box.waits;
  return (
    <section aria-label="Chargers" className="mt-8">
      <h2 className="heading">The chargers</h2>
      <p className="mt-1 text-plain">
        All packs, from where they land, take {wholeMinutes(done_min)} on the chargers here. {last} is full
        last, on {on}
        {waits_min >= 1 && `, after waiting ${wholeMinutes(waits_min)} for it`}.
      </p>
      <p className="mt-1 text-plain">
        {box.port
          ? `One port more on ${box.port.charger} would save ${wholeMinutes(box.port.saves_min)}.`
          : "No port more would save a minute."}
        {box.only.length > 0 && ` Only one charger takes: ${box.only.join("; ")}.`}
      </p>
    </section>
  );
}

function Plugs({ box }: { box: Box }) {
  if (box.plugs.length === 0) return null;
  return (
    <section aria-label="One plug for all" className="mt-8">
      <h2 className="heading">One plug for all</h2>
      <ul className="mt-1 divide-y border-y text-plain">
        {box.plugs.map((x) => (
          <li key={x.plug} className="grid gap-x-4 py-1.5 sm:grid-cols-[6rem_minmax(0,1fr)]">
            <span className="font-semibold">{x.name}</span>
            <span>
              {x.joints === 0 ? "Nothing to solder." : `${x.joints} joints to solder: `}
              {x.joints > 0 && plugsOf(x)}
              {fallsAway(x.falls_away.length)}
              {x.over.length > 0 && <b> Too hot in {x.over.join(", ")}.</b>}
              {x.cannot.length > 0 && ` ${x.cannot.join(", ")} keep their own.`}
            </span>
          </li>
        ))}
      </ul>
      <p className="mt-1 max-w-prose text-small text-ink-faint">
        Solder one wire at a time, the other insulated: both bare at once short the pack. Charge leads need
        the new plug too.
      </p>
    </section>
  );
}

function fallsAway(n: number): string {
  if (n === 0) return "";
  return n === 1 ? " 1 adapter falls away." : ` ${n} adapters fall away.`;
}

function plugsOf(x: Box["plugs"][number]): string {
  const of = [
    ...(x.packs.length > 0 ? [`${x.packs.length} ${packs(x.packs.length)} (${x.packs.join(", ")})`] : []),
    ...(x.models.length > 0
      ? [`${x.models.length} model${x.models.length === 1 ? "" : "s"} (${x.models.join(", ")})`]
      : []),
  ];
  return `${of.join(" and ")}.`;
}

const packs = (n: number) => (n === 1 ? "pack" : "packs");
