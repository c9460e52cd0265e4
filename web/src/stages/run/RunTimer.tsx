import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useEffect } from "react";
import type { Landing } from "@/api/types";
import {
  type Limits,
  limitRunning,
  startRunning,
  stopRunning,
  timerSeconds,
  useElapsed,
  useRunning,
} from "@/app/running";
import { readySound } from "@/app/sound";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { clock } from "@/format/time";
import { FINE } from "@/stages/run/LogRun";
import { landingsQuery } from "@/stages/run/queries";

type Props = {
  model: string;
  pack: string;
  /** What it may use, by the verdict; nothing without one. */
  limits: Partial<Limits>;
  /** This pack must not be run now: nothing invites to start. */
  noGo?: boolean;
  /** It landed after so many minutes, and how. */
  onLanded: (minutes: number, landing: Landing) => void;
};

/**
 * A big timer that goes on counting when it has run out; each way to land stops it and logs the run. The
 * frame sounds it.
 */
export function RunTimer({ model, pack, limits, noGo = false, onLanded }: Props) {
  const p = usePreferences();
  const running = useRunning();
  const here = running?.model === model && running.pack === pack ? running : undefined;
  const { elapsed, left, over } = useElapsed(here);
  useScreenOn(here !== undefined);
  useEffect(() => limitRunning(model, pack, limits), [model, pack, limits]);
  const start = () => {
    readySound(); // it may only begin with a press
    startRunning(model, pack, limits);
  };
  const { data: landings } = useQuery(landingsQuery);
  const [fine = FINE, ...others] = landings ?? [];
  const land = (landing: Landing) => {
    onLanded(Math.max(0.1, Math.round(elapsed / 6) / 10), landing);
    stopRunning();
  };
  const { seconds, plus } = timerSeconds(elapsed, left);
  return (
    <section aria-label="Timer" className="mt-4 border-t pt-3">
      {running && !here && (
        <p className="mb-2 text-plain">
          A timer runs for{" "}
          <Link
            to="/run/$model"
            params={{ model: running.model }}
            search={{ pack: running.pack }}
            className="action"
          >
            pack {running.pack}
          </Link>
          ; starting this one ends it.
        </p>
      )}
      {!here ? (
        <button
          type="button"
          className={noGo ? "action min-h-6 text-plain" : "primary min-h-12 w-full text-lead"}
          onClick={start}
        >
          {noGo ? "Only count the minutes, without a limit" : "Start the timer"}
        </button>
      ) : (
        <>
          <p
            role="timer"
            className={`number text-center text-[4rem] font-semibold leading-18
              ${over ? "text-alert" : ""}`}
          >
            {plus && "+"}
            {clock(seconds)}
          </p>
          <p className="text-center text-plain text-ink-soft" aria-live="assertive">
            {over ? "Land now." : left === undefined ? "running" : "left"}
          </p>
          {here.mah !== null && here.alarm_v !== null && (
            <p className="text-center text-small text-ink-soft">
              Use at most {worded("charge", here.mah, p)}; alarm at {worded("voltage", here.alarm_v, p)}.
            </p>
          )}
          <button
            type="button"
            className="mt-2 min-h-14 w-full rounded-plate border-2 border-ink text-lead font-semibold"
            onClick={() => land(fine)}
          >
            Landed, {fine.name.toLowerCase()}
          </button>
          <div className="mt-1.5 grid grid-cols-2 gap-1.5 sm:grid-cols-4">
            {others.map((landing) => (
              <button
                key={landing.id}
                type="button"
                className="control min-h-12 text-lead"
                onClick={() => land(landing)}
              >
                {landing.name}
              </button>
            ))}
          </div>
        </>
      )}
    </section>
  );
}

/** The phone’s screen stays on while the timer runs, where the browser can do that. */
function useScreenOn(wanted: boolean): void {
  useEffect(() => {
    if (!wanted || !("wakeLock" in navigator)) return;
    let lock: WakeLockSentinel | undefined;
    let gone = false;
    const ask = async () => {
      if (document.visibilityState !== "visible") return;
      try {
        lock = await navigator.wakeLock.request("screen");
        if (gone) await lock.release();
      } catch {
        // low battery, or not allowed: the timer counts all the same
      }
    };
    void ask();
    document.addEventListener("visibilitychange", ask);
    return () => {
      gone = true;
      document.removeEventListener("visibilitychange", ask);
      void lock?.release();
    };
  }, [wanted]);
}
