import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { answered, client } from "@/api/client";
import { ApiProblem } from "@/api/problem";
import type { Day, RunPack } from "@/api/types";
import { Drawing } from "@/charts/Drawing";
import { useWidth } from "@/charts/useWidth";
import { usePreferences } from "@/format/preferences";
import { bare, shown, worded } from "@/format/quantity";
import { Figure } from "@/parts/Figure";
import { Folded } from "@/parts/Folded";
import { NumberField } from "@/parts/NumberField";
import { stateWord } from "@/parts/PackState";
import { Waiting } from "@/parts/Waiting";

type Props = {
  model: string;
  pack: string;
  packs: RunPack[];
  /** What stands below: there when the day is, so that it does not move. */
  children: ReactNode;
};
const ROW = 16;

/**
 * The day: one's own packs as they lie there, or packs like one, in turn; when none is ready, and what
 * would keep them going.
 */
export function DayPart({ model, pack, packs, children }: Props) {
  const fitting = packs.filter((p) => p.runs);
  const [along, setAlong] = useState<string[] | undefined>();
  const own = along ?? [];
  const [ask, setAsk] = useState({
    packs: null as number | null,
    ports: null as number | null,
    port_w: null as number | null,
    run_min: null as number | null,
    hours: 5,
    supply_wh: null as number | null,
  });
  const { data, error } = useQuery({
    queryKey: ["shelf", "day", model, pack, ask, own],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: ({ signal }): Promise<Day> =>
      answered(client.POST("/api/run/day", { body: { model, pack, own, swap_min: 3, ...ask }, signal })),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const p = usePreferences();
  const problems = error instanceof ApiProblem ? error.fields : new Map<string, string>();
  const [given, setGiven] = useState<ReadonlySet<string>>(new Set());
  const set = (next: Partial<typeof ask>) => {
    setGiven(new Set([...given, ...Object.keys(next)]));
    setAsk({ ...ask, ...next });
  };
  const taken = { packs: data?.packs ?? null, ports: data?.ports ?? null, port_w: data?.port_w ?? null };
  // what nobody said is that of the box and of the charger that fills the pack soonest, and shown as assumed
  const of = (name: keyof typeof taken) => ask[name] ?? taken[name];
  const assumed = (name: keyof typeof ask) =>
    given.has(name)
      ? undefined
      : () => set({ [name]: name in taken ? of(name as keyof typeof taken) : ask[name] });
  const by = data?.charger && !given.has("ports") ? `of ${data.charger}` : undefined;
  if (!data && error instanceof ApiProblem && error.status === 0)
    return (
      <>
        <p className="mt-6 text-plain text-ink-soft lg:mt-0">The day is reckoned when there is a line.</p>
        {children}
      </>
    );
  if (!data && !error) return <Waiting words="Working out the day…" className="mt-6 lg:mt-0" />;
  return (
    <>
      <section aria-label="The day" className="mt-6 border-t pt-3 lg:mt-0 lg:border-t-0 lg:pt-0">
        <h2 className="heading">The day, with {along ? "the packs along" : `packs like ${pack}`}</h2>
        <p className="mt-1 text-lead font-semibold leading-5" aria-live="polite">
          {data ? (
            <Figure working={data.working} label="The day" className="text-left">
              {data.headline}
            </Figure>
          ) : (
            error?.message
          )}
        </p>
        <Along
          fitting={fitting}
          along={along}
          onChange={(next) => {
            setAlong(next);
            if (next && next.length > 0) set({ packs: 0 });
            else {
              setGiven(new Set([...given].filter((name) => name !== "packs")));
              setAsk({ ...ask, packs: null });
            }
          }}
        />
        <div className="mt-2 grid gap-x-8 sm:grid-cols-2">
          <NumberField
            label={own.length > 0 ? `More like ${pack}` : "Packs"}
            kind="count"
            value={of("packs")}
            step={1}
            problem={problems.get("packs")}
            assumed={assumed("packs")}
            onChange={(v) => v !== null && set({ packs: Math.max(own.length > 0 ? 0 : 1, Math.round(v)) })}
          />
          <NumberField
            label="A run takes"
            kind="minutes"
            value={ask.run_min}
            step={0.5}
            optional
            placeholder={data ? shown("minutes", data.run_min, p).text : "any"}
            problem={problems.get("run_min")}
            onChange={(v) => set({ run_min: v })}
          />
          <NumberField
            label="Charger ports"
            kind="count"
            value={of("ports")}
            hint={by}
            step={1}
            problem={problems.get("ports")}
            assumed={assumed("ports")}
            onChange={(v) => v !== null && set({ ports: Math.max(1, Math.round(v)) })}
          />
          <NumberField
            label="Watts of a port"
            kind="power"
            value={of("port_w")}
            step={10}
            problem={problems.get("port_w")}
            assumed={assumed("port_w")}
            onChange={(v) => v !== null && set({ port_w: v })}
          />
          <NumberField
            label="Hours"
            kind="count"
            value={ask.hours}
            step={1}
            problem={problems.get("hours")}
            assumed={assumed("hours")}
            onChange={(v) => v !== null && set({ hours: v })}
          />
          <NumberField
            label="Field supply"
            kind="energy"
            value={ask.supply_wh}
            step={50}
            optional
            placeholder="mains"
            problem={problems.get("supply_wh")}
            onChange={(v) => set({ supply_wh: v })}
          />
        </div>
        {data && (
          <>
            <Lanes day={data} hours={ask.hours} />
            <p className="mt-2 text-plain">
              A charge takes {Math.round(data.charge_min)} min at {worded("amps_set", data.charge_a, p)} (
              {data.charge_limit.replace(/^The /, "the ")}) and {worded("energy", data.charge_wh, p)} of a
              supply; {data.runs} runs use {worded("energy", data.used_wh, p)}.
              {data.uncharged > 0 && (
                <span className="font-semibold"> The supply is empty then: {data.uncharged} stay spent.</span>
              )}
            </p>
            <p className="mt-1 text-plain">
              {data.both_packs !== null && data.both_ports !== null ? (
                <>
                  For no waiting: {own.length > 0 ? `${data.both_packs} more` : data.both_packs} pack
                  {data.both_packs === 1 ? "" : "s"} like {pack} and {data.both_ports} port
                  {data.both_ports === 1 ? "" : "s"}
                  {data.both_wh !== null && `, ${worded("energy", data.both_wh, p)} in all`}.{" "}
                  {data.first_wait_min !== null && (
                    <button
                      type="button"
                      className="action"
                      onClick={() =>
                        set({ packs: data.both_packs ?? of("packs"), ports: data.both_ports ?? of("ports") })
                      }
                    >
                      See it
                    </button>
                  )}
                </>
              ) : (
                "No number of packs would do."
              )}{" "}
              {data.first_wait_min !== null &&
                (data.fewest_packs === null
                  ? `With ${data.ports} port${data.ports === 1 ? "" : "s"} no number of packs is enough.`
                  : `With these ports ${data.fewest_packs}${own.length > 0 ? " more" : ""} would be enough.`)}
            </p>
            {data.ways.length > 0 && (
              <section aria-label="Charge faster, or bring one more" className="mt-3">
                <h3 className="heading">Charge faster, or bring one more?</h3>
                <ul className="mt-0.5 text-plain">
                  {data.ways.map((w) => (
                    <li key={w.what}>{w.sentence}</li>
                  ))}
                </ul>
              </section>
            )}
          </>
        )}
      </section>
      {children}
    </>
  );
}

type AlongProps = {
  fitting: RunPack[];
  along: string[] | undefined;
  onChange: (along: string[] | undefined) => void;
};

/** One's own packs along, as they lie there, instead of so many alike. */
function Along({ fitting, along, onChange }: AlongProps) {
  if (fitting.length === 0) return null;
  const full = fitting.filter((p) => p.state === "full");
  const ready = (full.length > 0 ? full : fitting).map((p) => p.tag);
  return (
    <div className="mt-1 flex flex-wrap items-baseline gap-x-3 gap-y-1 text-plain">
      <label className="flex items-baseline gap-1.5">
        <input
          type="checkbox"
          checked={along !== undefined}
          onChange={(e) => onChange(e.target.checked ? ready : undefined)}
        />
        the packs along, as they are now
      </label>
      {along &&
        fitting.map((p) => (
          <label key={p.tag} className="flex items-baseline gap-1">
            <input
              type="checkbox"
              checked={along.includes(p.tag)}
              onChange={(e) =>
                onChange(e.target.checked ? [...along, p.tag] : along.filter((t) => t !== p.tag))
              }
            />
            <span className="number">{p.tag}</span>
            <span className="text-fine text-ink-faint">{stateWord(p.state)}</span>
          </label>
        ))}
    </div>
  );
}

const FILLS: Record<string, string> = {
  run: "var(--ink)",
  cool: "var(--hollow)",
  wait: "none",
  charge: "var(--heat-1)",
  ready: "none",
};
const NAMES = [
  ["run", "runs"],
  ["cool", "cools"],
  ["wait", "waits for a port"],
  ["charge", "charges"],
  ["ready", "ready"],
] as const;

function Lanes({ day, hours }: { day: Day; hours: number }) {
  const [ref, width] = useWidth<HTMLDivElement>(360);
  const end = hours * 60;
  const packs = day.lanes.length;
  const x = (m: number) => 20 + (Math.min(m, end) / end) * (width - 26);
  const height = packs * ROW + 20;
  return (
    <div ref={ref} className="mt-3 flex flex-col">
      <Drawing
        width={width}
        height={height}
        role="img"
        aria-label={`Lanes of ${packs} packs: ${day.headline}`}
      >
        {Array.from({ length: Math.floor(hours) + 1 }, (_, h) => h).map((h) => (
          <g key={h}>
            <line x1={x(h * 60)} x2={x(h * 60)} y1={0} y2={height - 16} stroke="var(--hollow)" />
            <text
              className="tick"
              x={x(h * 60)}
              y={height - 4}
              textAnchor={h === 0 ? "start" : h * 60 >= end ? "end" : "middle"}
            >
              {h} h
            </text>
          </g>
        ))}
        {day.spans
          .filter((s) => s.start_min < end)
          .map((s) => (
            <rect
              key={`${s.pack}-${s.stage}-${s.start_min}`}
              x={x(s.start_min)}
              y={s.pack * ROW + (s.stage === "run" ? 1 : 3)}
              width={Math.max(1, x(s.end_min) - x(s.start_min))}
              height={s.stage === "run" ? ROW - 3 : ROW - 7}
              fill={FILLS[s.stage]}
              stroke={s.stage === "wait" || s.stage === "ready" ? "var(--rule-strong)" : "none"}
              strokeDasharray={s.stage === "wait" ? "2 2" : undefined}
            />
          ))}
        {Array.from({ length: packs }, (_, k) => k).map((k) => (
          <text key={k} className="tick" x={0} y={k * ROW + 12}>
            {day.lanes[k]}
          </text>
        ))}
      </Drawing>
      <LanesTable day={day} end={end} />
      <ul className="flex flex-wrap gap-x-4 text-small text-ink-soft">
        {NAMES.map(([stage, name]) => (
          <li key={stage} className="flex items-center gap-1.5">
            <svg width="16" height="10" aria-hidden="true">
              <rect
                x="0.5"
                y="0.5"
                width="15"
                height="9"
                fill={FILLS[stage]}
                stroke={stage === "wait" || stage === "ready" ? "var(--rule-strong)" : "none"}
                strokeDasharray={stage === "wait" ? "2 2" : undefined}
              />
            </svg>
            {name}
          </li>
        ))}
      </ul>
    </div>
  );
}

function LanesTable({ day, end }: { day: Day; end: number }) {
  const names = Object.fromEntries(NAMES);
  const spans = day.spans
    .filter((s) => s.start_min < end)
    .sort((a, b) => a.start_min - b.start_min || a.pack - b.pack);
  return (
    <Folded name="As a table" className="order-last text-small text-ink-faint">
      <table className="mt-1 w-full max-w-sm text-left">
        <caption className="sr-only">What each pack does, from minute to minute</caption>
        <thead>
          <tr>
            <th scope="col">pack</th>
            <th scope="col">does</th>
            <th scope="col">from, min</th>
            <th scope="col">to, min</th>
          </tr>
        </thead>
        <tbody>
          {spans.map((s) => (
            <tr key={`${s.pack}-${s.stage}-${s.start_min}`}>
              <td className="number">{day.lanes[s.pack]}</td>
              <td>{names[s.stage]}</td>
              <td className="number">{bare("whole_minutes", s.start_min)}</td>
              <td className="number">{bare("whole_minutes", Math.min(s.end_min, end))}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Folded>
  );
}
