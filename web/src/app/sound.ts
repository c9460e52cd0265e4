import { useEffect } from "react";
import { store } from "@/app/store";

/** Whether the browser lets the alarm sound: it does once somebody has pressed something on the page. */
const ready = store(false);
let context: AudioContext | undefined;

export const useSoundReady = ready.use;

/** Make the sound ready; within a press, or it stays silent. */
export function readySound(): void {
  if (typeof AudioContext === "undefined") return;
  context ??= new AudioContext();
  const now = context;
  void now.resume().then(() => ready.set(now.state === "running"));
}

/** Every press on the page readies it, until it is. */
export function readyByPresses(): () => void {
  const press = () => readySound();
  for (const kind of ["pointerdown", "keydown"]) window.addEventListener(kind, press, { once: true });
  return () => {
    for (const kind of ["pointerdown", "keydown"]) window.removeEventListener(kind, press);
  };
}

/** A short tone, and a buzz where there is one; urgent ones are higher and twice. */
function beep(urgent: boolean): void {
  // before the first press the browser would only complain
  if (navigator.userActivation?.hasBeenActive) navigator.vibrate?.(urgent ? [250, 120, 250] : 200);
  if (context?.state !== "running") return;
  for (const after of urgent ? [0, 0.3] : [0]) {
    const tone = context.createOscillator();
    const loudness = context.createGain();
    loudness.gain.value = urgent ? 0.2 : 0.08;
    tone.frequency.value = urgent ? 1175 : 880;
    tone.connect(loudness).connect(context.destination);
    tone.start(context.currentTime + after);
    tone.stop(context.currentTime + after + 0.18);
  }
}

/** Beeps as long as it is wanted, each so many milliseconds. */
export function useBeeping(on: boolean, urgent: boolean, againMs: number): void {
  useEffect(() => {
    if (!on) return;
    beep(urgent);
    const timer = window.setInterval(() => beep(urgent), againMs);
    return () => window.clearInterval(timer);
  }, [on, urgent, againMs]);
}
