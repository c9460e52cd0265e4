import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate, useParams, useSearch } from "@tanstack/react-router";
import { lazy, Suspense, useCallback, useMemo, useState } from "react";
import { ApiProblem } from "@/api/problem";
import type { Choices, RunAsk, RunPack } from "@/api/types";
import { perform, touched } from "@/app/act";
import { notify } from "@/app/notices";
import { choicesQuery, modelQuery } from "@/app/queries";
import { type Limits, runningNow, useRunning } from "@/app/running";
import { useRemembered } from "@/app/useRemembered";
import { ownedId } from "@/format/packId";
import { parsed } from "@/format/parse";
import { usePreferences } from "@/format/preferences";
import { unitOf, worded } from "@/format/quantity";
import { asRead, lineOf } from "@/format/reading";
import { timeWords } from "@/format/time";
import { type Here, useAsSaid } from "@/life/asSaid";
import { say } from "@/life/queries";
import { TypoNote } from "@/life/TypoNote";
import { lazyPart } from "@/parts/lazyPart";
import { StageWaiting } from "@/parts/StageWaiting";
import { useSlow } from "@/parts/useSlow";
import { AlongPart } from "@/stages/run/AlongPart";
import { DayPart } from "@/stages/run/DayPart";
import { Landed, type LandedRun } from "@/stages/run/Landed";
import { LogRun } from "@/stages/run/LogRun";
import { Packs } from "@/stages/run/Packs";
import { goQuery, runPacksQuery } from "@/stages/run/queries";
import { logRun, takeBack } from "@/stages/run/queue";
import { RunsPart } from "@/stages/run/RunsPart";
import { RunTimer } from "@/stages/run/RunTimer";
import { TomorrowPart } from "@/stages/run/tomorrow/TomorrowPart";
import { useKit } from "@/stages/run/useKit";
import { type Shown, Verdict, WithoutLine } from "@/stages/run/Verdict";

const CellsPart = lazyPart(() => import("@/drawings/CellsPart"));

const MissingModel = lazy(() => import("@/app/MissingModel"));

/** In the field: pack, cells, go or no go, timer, log. Works on when the signal has gone. */
export function RunScreen() {
  const { model } = useParams({ from: "/run/$model" });
  const queries = useQueryClient();
  const { data: job, error: missing, refetch } = useQuery(modelQuery(model));
  useRemembered(model, "Run");
  // equipment is served for hours, not in turns
  const serves = Boolean(job?.job.equipment);
  const { data: listed, error: noPacks } = useQuery(runPacksQuery(model));
  const { data: choices } = useQuery(choicesQuery);
  const asSaid = useAsSaid();
  const packs = useMemo(
    () => listed?.map((pack) => heardHere(asSaid(pack), choices?.signs)),
    [listed, asSaid, choices],
  );
  const search = useSearch({ from: "/run/$model" });
  // of one pack alone nobody need be asked which
  const pack = search.pack ?? (packs?.length === 1 ? packs[0]?.tag : undefined);
  const navigate = useNavigate({ from: "/run/$model" });
  const setPack = (tag: string | undefined) => {
    setCells("");
    void navigate({ search: { pack: tag }, replace: true, resetScroll: false });
  };
  // a reload in the middle of a run loses nothing
  const [cells, setCells] = useState(() => (runningNow()?.pack === pack ? (runningNow()?.cells ?? "") : ""));
  const [warmth, setWarmth] = useState("");
  const [landed, setLanded] = useState<LandedRun | undefined>();
  const preferences = usePreferences();
  const typedWarmth = warmth.trim() ? parsed("temperature", warmth, preferences) : undefined;
  const temperature = typedWarmth && "value" in typedWarmth ? typedWarmth.value : null;
  const runs = pack !== undefined && (packs === undefined || packs.some((p) => p.tag === pack));
  const here = packs?.find((p) => p.tag === pack);
  // two that run together take no turns with others
  const single = packs?.find((p) => p.pair.length === 0 && p.runs)?.tag;
  const known = here?.cells_at && asRead(here) ? here : undefined;
  // what nobody reads may be taken as it was noted, by a press
  const [byNote, setByNote] = useState<string | undefined>();
  const noted = byNote === pack && here && here.lowest_soc !== null;
  const asked = Boolean(runs && (cells.trim() || known || noted));
  const go = useQuery({ ...goQuery(model, pack ?? "", cells.trim(), temperature), enabled: asked });
  const slow = useSlow(asked && go.isFetching && !go.data);
  // what is typed here says more of it than the list
  const typed = asked && cells.trim() ? go.data?.pack : undefined;
  const refused = go.error instanceof ApiProblem ? go.error : undefined;
  const wrongWarmth =
    typedWarmth && "problem" in typedWarmth ? typedWarmth.problem : refused?.fields.get("temperature_c");
  const wrongCells =
    !asked || !go.error || refused?.fields.has("temperature_c")
      ? undefined
      : refused?.status === 0
        ? undefined
        : go.error.message;
  const kit = useKit(model, pack, job);
  const alone = refused?.status === 0 || slow;
  const taken =
    alone && asked && kit ? kit(cells.trim() || (known ? lineOf(known) : ""), temperature) : undefined;
  const shown: Shown | undefined = !asked
    ? undefined
    : (go.data ?? (taken?.said === "verdict" ? taken : undefined));
  const fresh = useCallback(() => touched(queries, "life"), [queries]);
  const running = useRunning();
  /** Its cells as they were typed before it began, or are now. */
  const ranBy = () => running?.cells || cells.trim();
  const log = (told: Omit<RunAsk, "key">, landing: LandedRun["landing"], timed = false) => {
    const run = { ...told, at: told.hour_told ? told.at : new Date().toISOString() };
    const kept = { ...run, key: logRun(run, fresh) };
    // what the timer counted may want more said of it, and damage says what to do
    if (timed || landing.todo.length > 0) setLanded({ run: kept, landing });
    else
      notify(
        `Logged: ${pack}, ${worded("minutes", run.minutes, preferences)}. Let it cool before it is charged.`,
        {
          act: { name: "Undo", run: () => void undo(kept) },
        },
      );
    // the pack is spent now: what it read before the run says nothing of the next one
    setCells("");
  };
  const undo = async (run: RunAsk) => {
    setLanded(undefined);
    await takeBack(run, fresh);
    fresh();
  };
  if (missing instanceof ApiProblem && missing.status === 404)
    return <MissingModel error={missing} to="/run/$model" onRetry={() => void refetch()} />;
  if (!packs && !noPacks) return <StageWaiting heading="Run" words="Looking for packs…" />;
  return (
    <main
      className="mx-auto w-full max-w-xl flex-1 px-4 py-4 md:px-6 lg:grid lg:max-w-6xl lg:grid-cols-2
      lg:content-start lg:gap-x-12"
    >
      <h1 className="sr-only">Run {job?.name}</h1>
      <div>
        <Packs
          onTwo={(job?.job.now?.joined ?? "") !== ""}
          model={model}
          // what is typed here says more of it than the list, also of why it would have to wait
          packs={packs?.map((p) => (p.tag === typed?.tag ? { ...p, ...typed, waits: "" } : p))}
          picked={pack}
          onPick={(tag) => setPack(tag === pack ? undefined : tag)}
        />
        {landed && landed.run.pack === pack && (
          <Landed
            key={landed.run.key}
            landed={landed}
            of={here}
            onSent={fresh}
            onUndo={() => void undo(landed.run)}
            onDone={() => setLanded(undefined)}
          />
        )}
        {pack && runs && landed?.run.pack !== pack && (
          <>
            <div className="mt-4 flex items-end gap-3">
              <div className="grid flex-1">
                <label htmlFor="run-cells" className="text-small text-ink-faint">
                  Volts of {pack}, cells or pack
                </label>
                <input
                  id="run-cells"
                  inputMode="text"
                  autoComplete="off"
                  placeholder={known ? asRead(known) : here?.example}
                  className="number field w-full min-w-0 py-1.5 text-lead"
                  value={cells}
                  aria-invalid={wrongCells ? true : undefined}
                  aria-describedby={wrongCells ? "run-cells-wrong" : undefined}
                  onChange={(e) => setCells(e.target.value)}
                />
              </div>
              <div className="grid w-16">
                <label htmlFor="run-warmth" className="text-small text-ink-faint">
                  Pack, {unitOf("temperature", preferences)}
                </label>
                <input
                  id="run-warmth"
                  inputMode="text"
                  autoComplete="off"
                  placeholder="–"
                  aria-invalid={wrongWarmth ? true : undefined}
                  aria-describedby={wrongWarmth ? "run-warmth-wrong" : undefined}
                  className="number field w-full min-w-0 py-1.5 text-right text-lead"
                  value={warmth}
                  onChange={(e) => setWarmth(e.target.value)}
                />
              </div>
            </div>
            {known?.cells_at && !cells.trim() && (
              <p className="mt-1 text-small text-ink-soft">
                As read {timeWords(known.cells_at, preferences)}. Type it if you read it anew.
              </p>
            )}
            {wrongCells && (
              <p id="run-cells-wrong" role="alert" className="mt-1 text-plain text-alert">
                {wrongCells}
              </p>
            )}
            {(here?.pair.length ?? 0) === 0 && <TypoNote tag={pack} cells={cells} onUse={setCells} />}
            {wrongWarmth && (
              <p id="run-warmth-wrong" role="alert" className="mt-1 text-right text-plain text-alert">
                {wrongWarmth}
              </p>
            )}
            {alone && asked && !go.data && <WithoutLine taken={taken} made={kit?.made} />}
            {shown && <Verdict go={shown} by={shown === taken ? kit?.made : undefined} />}
            {shown && !alone && (here?.pair.length ?? 0) === 0 && cells.trim() !== "" && (
              <Suspense>
                <div className="mt-4">
                  <CellsPart tag={pack} cells={cells.trim()} />
                </div>
              </Suspense>
            )}
            {!asked && here && (
              <Unread here={here} model={model} onNoted={here.waits ? undefined : () => setByNote(pack)} />
            )}
            <RunTimer
              model={model}
              pack={pack}
              limits={limitsOf(shown, cells.trim())}
              // what has no verdict yet, or a bad one, invites nobody to start
              noGo={shown?.verdict === "no_go" || here?.runs === false || (!asked && here !== undefined)}
              onLanded={(minutes, landing) =>
                log(
                  { ...AS_LANDED, model, pack, minutes, cells: ranBy(), signs: landing.signs },
                  landing,
                  true,
                )
              }
            />
            {!(running?.pack === pack && running.model === model) && (
              <LogRun
                key={pack}
                model={model}
                pack={pack}
                of={here}
                cells={cells.trim()}
                onLog={(run, landing) => log(run, landing)}
              />
            )}
          </>
        )}
      </div>
      <div>
        {packs?.length !== 0 && !serves && <TomorrowPart model={model} />}
        {packs && single && !serves && !here?.pair.length && (!pack || runs) ? (
          <DayPart model={model} pack={pack ?? single} packs={packs.filter((p) => p.pair.length === 0)}>
            <RunsPart model={model} />
            <AlongPart model={model} />
          </DayPart>
        ) : (
          <>
            <RunsPart model={model} />
            {packs && packs.length > 0 && <AlongPart model={model} />}
          </>
        )}
      </div>
    </main>
  );
}

/** A pack of which something was said here that its list does not know: it waits, and damage is no go. */
function heardHere(pack: RunPack & { here?: Here }, signs: Choices["signs"] | undefined): RunPack {
  const { here, ...rest } = pack;
  if (!here) return rest;
  if (here.signs.length === 0) return { ...rest, waits: here.words };
  const seen = here.signs.map((id) => signs?.find((s) => s.id === id)?.name ?? "Damage").join(", ");
  return {
    ...rest,
    runs: false,
    why: `${seen}. ${here.words} Nobody runs it before that is settled.`,
    waits: "",
  };
}

/** A run of which nothing more is said yet. */
const AS_LANDED = {
  at: "",
  put_back_mah: null,
  landing_cell_v: null,
  landed: "",
  temperature_c: null,
  note: "",
  hour_told: false,
  sure: false,
};

type UnreadProps = { here: RunPack; model: string; onNoted: (() => void) | undefined };

/** Before it was read: the verdict in this model stands, go or no go does not. */
function Unread({ here, model, onNoted }: UnreadProps) {
  const queries = useQueryClient();
  const full = here.charge === "full" && here.lowest_soc !== null;
  const justCharged = async () => {
    const words = `${here.tag} as full`;
    const noted = {
      act: () => say(queries, "left", words, { packs: [here.tag], state: "full" }),
      touches: [],
      fails: "It could not be noted.",
    };
    if (full || (await perform(queries, noted))) onNoted?.();
  };
  return here.runs ? (
    <div className="mt-3 border-l-4 border-dashed border-rule-strong pl-2 text-plain">
      <p>Read it for go or no go: each cell, or the whole pack with a multimeter.</p>
      {onNoted && (
        <button type="button" className="action mt-1" onClick={() => void justCharged()}>
          {full ? "Nothing to read with: take it as full" : "It is just off the charger, full"}
        </button>
      )}
    </div>
  ) : (
    <p role="alert" className="mt-3 border-l-8 border-alert py-1 pl-3 text-alert">
      <strong className="block text-display leading-9">No go</strong>
      {here.why}{" "}
      <Link to="/match/$model" params={{ model }} search={{ pack: ownedId(here.tag) }} className="action">
        Why
      </Link>
    </p>
  );
}

/** What a run may use; nothing where it must not be run. */
function limitsOf(shown: Shown | undefined, cells: string): Partial<Limits> {
  if (!shown || shown.verdict === "no_go") return { cells };
  return { seconds: shown.timer_s, mah: shown.budget_mah, alarm_v: shown.alarm_v, cells };
}
