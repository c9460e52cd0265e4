import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate, useParams, useSearch } from "@tanstack/react-router";
import { useCallback, useEffect, useState } from "react";
import { ApiProblem } from "@/api/problem";
import type { Go } from "@/api/types";
import { MissingModel } from "@/app/MissingModel";
import { modelQuery } from "@/app/queries";
import { useRemembered } from "@/app/useRemembered";
import { usePreferences } from "@/format/preferences";
import { parsed, unitOf, worded } from "@/format/quantity";
import { clock } from "@/format/time";
import { DayPart } from "@/stages/run/DayPart";
import { LogRun } from "@/stages/run/LogRun";
import { Packs } from "@/stages/run/Packs";
import { goQuery, runPacksQuery } from "@/stages/run/queries";
import { send } from "@/stages/run/queue";
import { RunsPart } from "@/stages/run/RunsPart";
import { RunTimer } from "@/stages/run/RunTimer";
import { Figure } from "@/ui/Figure";

const WORDS = { go: "Go", careful: "Go, with care", no_go: "No go" } as const;

/** In the field: pack, cells, go or no go, timer, log. Works on when the signal has gone. */
export function RunScreen() {
  const { model } = useParams({ from: "/run/$model" });
  const queries = useQueryClient();
  const { data: job, error: missing, refetch } = useQuery(modelQuery(model));
  useRemembered(model, "Run");
  const { data: packs } = useQuery(runPacksQuery(model));
  const { pack } = useSearch({ from: "/run/$model" });
  const navigate = useNavigate({ from: "/run/$model" });
  const setPack = (tag: string | undefined) => {
    setCells("");
    void navigate({ search: { pack: tag }, replace: true, resetScroll: false });
  };
  const [cells, setCells] = useState("");
  const [warmth, setWarmth] = useState("");
  const [ran, setRan] = useState<{ pack: string; minutes: number } | undefined>();
  const preferences = usePreferences();
  const typedWarmth = warmth.trim() ? parsed("temperature", warmth, preferences) : undefined;
  const temperature = typedWarmth && "value" in typedWarmth ? typedWarmth.value : null;
  const runs = pack !== undefined && (packs === undefined || packs.some((p) => p.tag === pack));
  const asked = Boolean(runs && cells.trim());
  const go = useQuery({ ...goQuery(model, pack ?? "", cells.trim(), temperature), enabled: asked });
  const refused = go.error instanceof ApiProblem ? go.error : undefined;
  const wrongWarmth =
    typedWarmth && "problem" in typedWarmth ? typedWarmth.problem : refused?.fields.get("temperature_c");
  const wrongCells =
    !asked || !go.error || refused?.fields.has("temperature_c")
      ? undefined
      : refused?.status === 0
        ? "No line to the server: go by your own reading. The timer and the log work all the same."
        : go.error.message;
  const fresh = useCallback(() => {
    // a first answer that is still on its way is older than what was just sent
    for (const key of ["runs", "shelf", "pack-page"])
      void queries
        .cancelQueries({ queryKey: [key] })
        .then(() => queries.invalidateQueries({ queryKey: [key] }));
  }, [queries]);
  useEffect(() => {
    void send(fresh);
    const online = () => void send(fresh);
    window.addEventListener("online", online);
    return () => window.removeEventListener("online", online);
  }, [fresh]);
  if (missing instanceof ApiProblem && missing.status === 404)
    return <MissingModel error={missing} to="/run/$model" onRetry={() => void refetch()} />;
  return (
    <main className="mx-auto w-full max-w-xl flex-1 px-4 py-4 md:px-6 lg:grid lg:max-w-6xl lg:grid-cols-2 lg:content-start lg:gap-x-12">
      <h1 className="sr-only">Run {job?.name}</h1>
      <div>
        <Packs
          model={model}
          packs={packs}
          picked={pack}
          onPick={(tag) => setPack(tag === pack ? undefined : tag)}
        />
        {pack && runs && (
          <>
            <div className="mt-4 flex items-end gap-3">
              <div className="grid flex-1">
                <label htmlFor="run-cells" className="text-xs text-ink-faint">
                  Cells of {pack}, in volts
                </label>
                <input
                  id="run-cells"
                  inputMode="text"
                  autoComplete="off"
                  placeholder="4.19 4.18 4.19 4.19"
                  className="number w-full min-w-0 border-b border-rule-strong bg-transparent py-1.5 text-[17px] outline-none placeholder:text-ink-faint/60 focus:border-fjord"
                  value={cells}
                  aria-invalid={wrongCells ? true : undefined}
                  aria-describedby={wrongCells ? "run-cells-wrong" : undefined}
                  onChange={(e) => setCells(e.target.value)}
                />
              </div>
              <div className="grid w-16">
                <label htmlFor="run-warmth" className="text-xs text-ink-faint">
                  Pack, {unitOf("temperature", preferences)}
                </label>
                <input
                  id="run-warmth"
                  inputMode="text"
                  autoComplete="off"
                  placeholder="–"
                  aria-invalid={wrongWarmth ? true : undefined}
                  aria-describedby={wrongWarmth ? "run-warmth-wrong" : undefined}
                  className="number w-full min-w-0 border-b border-rule-strong bg-transparent py-1.5 text-right text-[17px] outline-none focus:border-fjord"
                  value={warmth}
                  onChange={(e) => setWarmth(e.target.value)}
                />
              </div>
            </div>
            {wrongCells && (
              <p id="run-cells-wrong" role="alert" className="mt-1 text-[13px] text-alert">
                {wrongCells}
              </p>
            )}
            {wrongWarmth && (
              <p id="run-warmth-wrong" role="alert" className="mt-1 text-right text-[13px] text-alert">
                {wrongWarmth}
              </p>
            )}
            {asked && go.data && <Verdict go={go.data} />}
            <RunTimer
              model={model}
              pack={pack}
              seconds={asked && go.data?.verdict !== "no_go" ? go.data?.timer_s : undefined}
              noGo={asked && go.data?.verdict === "no_go"}
              onStop={(minutes) => setRan({ pack, minutes })}
            />
            <LogRun
              key={pack}
              model={model}
              pack={pack}
              minutes={ran?.pack === pack ? ran.minutes : undefined}
              onTaken={() => {
                setRan(undefined);
                // the pack is spent now: what it read before the run says nothing of the next one
                setCells("");
              }}
              onSent={fresh}
            />
          </>
        )}
      </div>
      <div>
        {packs && packs.length > 0 && (!pack || runs) && (
          <DayPart model={model} pack={pack ?? packs[0]?.tag ?? ""} packs={packs} />
        )}
        <RunsPart model={model} onChanged={fresh} />
      </div>
    </main>
  );
}

function Verdict({ go }: { go: Go }) {
  const p = usePreferences();
  return (
    <section aria-label="Go or no go" className="mt-4" aria-live="polite">
      <p
        className={`border-l-8 py-1 pl-3 text-[30px] font-bold leading-9 ${go.verdict === "no_go" ? "border-alert text-alert" : go.verdict === "careful" ? "border-ink" : "border-fjord"}`}
      >
        {WORDS[go.verdict]}
      </p>
      <ul className="mt-2 space-y-1">
        {go.reasons.map((r) => (
          <li key={r.id + r.sentence} className={r.verdict === "no_go" ? "font-semibold" : "text-ink-soft"}>
            {r.sentence}
          </li>
        ))}
      </ul>
      {go.verdict !== "no_go" && (
        <dl className="mt-3 grid grid-cols-3 gap-3">
          <Fact name="timer">
            <Figure working={go.working} label="Timer">
              {clock(go.timer_s)}
            </Figure>
          </Fact>
          <Fact name="use at most">
            <Figure working={go.budget_working} label="Use at most">
              {worded("charge", go.budget_mah, p)}
            </Figure>
          </Fact>
          <Fact name={`alarm, ${go.alarm_cell_v.toFixed(2)} V a cell`}>
            <Figure working={go.alarm_working} label="Alarm">
              {worded("voltage", go.alarm_v, p)}
            </Figure>
          </Fact>
        </dl>
      )}
      {go.verdict !== "no_go" && (
        <p className="mt-1 text-[13px] text-ink-soft">
          Lands after about {worded("minutes", go.minutes, p)} ({go.minutes_low.toFixed(1)} to{" "}
          {go.minutes_high.toFixed(1)}).
        </p>
      )}
      {go.verdict !== "no_go" && (
        <ul className="mt-2 text-[13px] text-ink-soft">
          {go.cautions.map((c) => (
            <li key={c.id}>{c.sentence}</li>
          ))}
        </ul>
      )}
    </section>
  );
}

function Fact({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div className="flex flex-col-reverse">
      <dt className="text-xs text-ink-faint">{name}</dt>
      <dd className="number text-[22px] font-semibold leading-7">{children}</dd>
    </div>
  );
}
