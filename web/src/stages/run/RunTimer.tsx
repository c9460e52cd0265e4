import { useEffect, useRef, useState } from "react";
import { clock } from "@/format/time";

type Props = { seconds: number | undefined; onStop: (minutes: number) => void };

/** A big timer that beeps and vibrates when it has run out, and goes on counting; stopping it fills in the log. */
export function RunTimer({ seconds, onStop }: Props) {
  const [started, setStarted] = useState<number | undefined>();
  const [now, setNow] = useState(0);
  const sound = useRef<AudioContext | undefined>(undefined);
  const elapsed = started === undefined ? 0 : Math.max(0, (now - started) / 1000);
  const left = seconds === undefined ? undefined : seconds - elapsed;
  const over = started !== undefined && left !== undefined && left <= 0;
  useEffect(() => {
    if (started === undefined) return;
    const timer = window.setInterval(() => setNow(Date.now()), 250);
    return () => window.clearInterval(timer);
  }, [started]);
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
    setStarted(Date.now());
    setNow(Date.now());
  };
  const stop = () => {
    onStop(Math.max(0.1, Math.round(elapsed / 6) / 10));
    setStarted(undefined);
  };
  return (
    <section aria-label="Timer" className="mt-4 border-t pt-3">
      {started === undefined ? (
        <button type="button" className="primary min-h-12 w-full text-[17px]" onClick={start}>
          Start the timer
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
