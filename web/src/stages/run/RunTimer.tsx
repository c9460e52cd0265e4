import { Link } from "@tanstack/react-router";
import { useEffect, useRef, useState } from "react";
import { clock } from "@/format/time";
import { startRunning, stopRunning, useRunning } from "@/stages/run/running";

type Props = {
  model: string;
  pack: string;
  seconds: number | undefined;
  /** This pack must not be run now: nothing invites to start. */
  noGo?: boolean;
  onStop: (minutes: number) => void;
};

/** A big timer that beeps and vibrates when it has run out, and goes on counting; stopping it fills in the log. */
export function RunTimer({ model, pack, seconds, noGo = false, onStop }: Props) {
  const running = useRunning();
  const here = running?.model === model && running.pack === pack ? running : undefined;
  const [now, setNow] = useState(Date.now);
  const sound = useRef<AudioContext | undefined>(undefined);
  const elapsed = here ? Math.max(0, (now - here.started) / 1000) : 0;
  const left = here?.seconds == null ? undefined : here.seconds - elapsed;
  const over = left !== undefined && left <= 0;
  useEffect(() => {
    if (!here) return;
    const timer = window.setInterval(() => setNow(Date.now()), 250);
    return () => window.clearInterval(timer);
  }, [here]);
  useScreenOn(here !== undefined);
  useEffect(() => {
    if (!over) return;
    const ring = () => {
      navigator.vibrate?.([250, 120, 250]);
      const context = sound.current;
      if (context?.state !== "running") return;
      const tone = context.createOscillator();
      tone.frequency.value = 1046;
      tone.connect(context.destination);
      tone.start();
      tone.stop(context.currentTime + 0.25);
    };
    ring();
    const timer = window.setInterval(ring, 2000);
    return () => window.clearInterval(timer);
  }, [over]);
  const start = () => {
    // sound may only begin with a press
    if (typeof AudioContext !== "undefined") sound.current ??= new AudioContext();
    startRunning(model, pack, seconds);
    setNow(Date.now());
  };
  const stop = () => {
    onStop(Math.max(0.1, Math.round(elapsed / 6) / 10));
    stopRunning();
  };
  return (
    <section aria-label="Timer" className="mt-4 border-t pt-3">
      {running && !here && (
        <p className="mb-2 text-[13px]">
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
          className={noGo ? "action min-h-6 text-[13px]" : "primary min-h-12 w-full text-[17px]"}
          onClick={start}
        >
          {noGo ? "Only count the minutes, without a limit" : "Start the timer"}
        </button>
      ) : (
        <>
          <p
            role="timer"
            className={`number text-center text-[64px] font-semibold leading-[72px] ${over ? "text-alert" : ""}`}
          >
            {left === undefined ? clock(elapsed) : `${left < 0 ? "+" : ""}${clock(Math.abs(left))}`}
          </p>
          <p className="text-center text-[13px] text-ink-soft" aria-live="assertive">
            {over ? "Land now." : left === undefined ? "running" : "left"}
          </p>
          <button
            type="button"
            className="mt-2 min-h-12 w-full rounded-plate border-2 border-ink text-[17px] font-semibold"
            onClick={stop}
          >
            Landed
          </button>
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
