import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useParams, useRouterState } from "@tanstack/react-router";
import { lazy, Suspense, useEffect, useState } from "react";
import { wordsOf } from "@/api/problem";
import type { StandingAlarm } from "@/api/types";
import { alarmsQuery, confirmAlarm, PULL_PLUG, stopStranger } from "@/app/alarms";
import { notify } from "@/app/notices";
import { PulledButton } from "@/app/PulledButton";
import { readyByPresses, readySound, useBeeping, useSoundReady } from "@/app/sound";
import { useMarkedTitle } from "@/app/title";
import { useLastModel } from "@/app/useLastModel";
import { usePreferences } from "@/format/preferences";
import { timeWords } from "@/format/time";

const TakeOver = lazy(() => import("@/app/TakeOver"));
const AlarmGraph = lazy(() => import("@/stages/charge/AlarmGraph").then((m) => ({ default: m.AlarmGraph })));
const AGAIN_MS = 1500;
/** Alarms that no word ends while they hold: a plug is pulled, the watch judges again. */
const STANDS = new Set([PULL_PLUG, "not_judged"]);

/**
 * Alarms on every stage, with what to do now, until somebody has seen to them; and what charges meanwhile.
 */
export function AlarmBar() {
  const { data } = useQuery(alarmsQuery);
  const path = useRouterState({ select: (s) => s.location.pathname });
  const alarms = data?.alarms ?? [];
  // the charge's own card shows what is merely to be looked at
  const atCharge = path.startsWith("/charge/");
  const shown = alarms.filter((a) => !atCharge || a.level === "stop");
  useSound(alarms);
  useMarkedTitle("ALARM: ", alarms.length > 0);
  const charging = data?.charging ?? [];
  const queries = useQueryClient();
  const which = charging.join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: whatever began or ended, here or elsewhere
  useEffect(() => void queries.invalidateQueries({ queryKey: ["charges"] }), [which, queries]);
  return (
    <>
      {shown.length > 0 && (
        <section aria-label="Alarms" className="no-print border-b-4 border-alert bg-sheet px-4 py-3 md:px-6">
          <ul className="grid gap-3">
            {shown.map((a) => (
              <OneAlarm key={a.id} alarm={a} packs={data?.could_be ?? []} />
            ))}
          </ul>
          {/* the first press on the page takes it away: nothing that is pressed may move by that */}
          <SoundLine wanted={alarms.some((a) => !a.over)} />
        </section>
      )}
      {!atCharge && charging.length > 0 && <ChargingLine labels={charging} />}
    </>
  );
}

function OneAlarm({ alarm, packs }: { alarm: StandingAlarm; packs: readonly string[] }) {
  const p = usePreferences();
  const queries = useQueryClient();
  const act = async (work: () => Promise<void>, words: string) => {
    try {
      await work();
    } catch (problem) {
      notify(wordsOf(problem, words), { wrong: true });
    }
  };
  return (
    <li>
      <p
        role="alert"
        className={`font-bold text-alert ${alarm.urgent ? "text-title leading-7" : "text-lead"}`}
      >
        {alarm.label && <span className="number">{alarm.label}: </span>}
        {alarm.sentence}
      </p>
      <p className="text-plain text-ink-soft">
        {alarm.where}, {timeWords(alarm.at, p)}. {alarm.done}
      </p>
      {alarm.todo.length > 0 && (
        <ol className="mt-1 list-inside list-decimal">
          {alarm.todo.map((x) => (
            <li key={x}>{x}</li>
          ))}
        </ol>
      )}
      {alarm.charge != null && <Measured alarm={alarm} charge={alarm.charge} />}
      <div className="mt-2 flex flex-wrap gap-3">
        {alarm.kind === "stranger" && !alarm.over && (
          <button
            type="button"
            className="stop-button"
            onClick={() =>
              void act(() => stopStranger(queries, alarm.id), "It could not be stopped: go to it.")
            }
          >
            Stop it there
          </button>
        )}
        {alarm.kind === PULL_PLUG && !alarm.over && alarm.charge != null && (
          <PulledButton charge={alarm.charge} label={alarm.label} />
        )}
        {alarm.level === "stop" && !STANDS.has(alarm.kind) && (
          <button
            type="button"
            className="control"
            onClick={() => void act(() => confirmAlarm(queries, alarm.id), "It could not be noted.")}
          >
            I saw to it<span className="sr-only">: {alarm.label || alarm.where}</span>
          </button>
        )}
      </div>
      {alarm.kind === "stranger" && !alarm.over && (
        <Suspense fallback={null}>
          <TakeOver alarm={alarm} packs={packs} />
        </Suspense>
      )}
    </li>
  );
}

/** The graph at that moment, for who wants to see it. */
function Measured({ alarm, charge }: { alarm: StandingAlarm; charge: number }) {
  const [open, setOpen] = useState(false);
  return (
    <details className="mt-1" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="text-plain text-ink-soft">What it measured until then</summary>
      {open && (
        <Suspense fallback={<p className="text-plain text-ink-faint">Fetching…</p>}>
          <AlarmGraph alarm={alarm} charge={charge} />
        </Suspense>
      )}
    </details>
  );
}

/** What charges, on the other stages: a charge is not left alone. */
function ChargingLine({ labels }: { labels: readonly string[] }) {
  const last = useLastModel();
  const { model = last } = useParams({ strict: false });
  return (
    <p className="no-print border-b bg-hollow px-4 py-1 text-small md:px-6">
      Charging: <span className="number font-semibold">{labels.join(", ")}</span>.{" "}
      <Link to="/charge/$model" params={{ model }} className="action">
        Watch
      </Link>
    </p>
  );
}

function SoundLine({ wanted }: { wanted: boolean }) {
  const ready = useSoundReady();
  if (!wanted || ready) return null;
  return (
    <p className="mt-2 text-plain">
      The browser keeps this page silent.{" "}
      <button type="button" className="action" onClick={readySound}>
        Let the alarm sound
      </button>
    </p>
  );
}

function useSound(alarms: readonly StandingAlarm[]): void {
  useEffect(readyByPresses, []);
  const on = alarms.some((a) => !a.over);
  useBeeping(
    on,
    alarms.some((a) => a.urgent),
    AGAIN_MS,
  );
}
