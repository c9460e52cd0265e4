const two = (n: number) => String(Math.floor(n)).padStart(2, "0");

/** A duration: 754 s → "12:34". */
export function clock(seconds: number): string {
  return `${Math.floor(seconds / 60)}:${two(seconds % 60)}`;
}

/** A duration as people say it: "25 min", "1 h 05 min". */
export function minutesWords(minutes: number): string {
  const whole = Math.round(minutes);
  return whole < 60 ? `${whole} min` : `${Math.floor(whole / 60)} h ${two(whole % 60)} min`;
}

/** A short duration, never less than it is: "11 s", "3 min". */
export function secondsWords(seconds: number): string {
  return seconds < 90 ? `${Math.ceil(seconds)} s` : minutesWords(Math.ceil(seconds / 60));
}

/** A duration to the nearest second: "11 s". */
export function wholeSeconds(seconds: number): string {
  return `${seconds.toFixed(0)} s`;
}

/** Minutes of the day as a time: 545 → "09:05". */
export function dayTime(minutes: number): string {
  return `${two((minutes / 60) % 24)}:${two(minutes % 60)}`;
}

/** The time of a moment without a zone, with the day of the week where it is not the day of `from`. */
export function timeOf(iso: string, from?: string): string {
  const time = iso.slice(11, 16);
  if (!from || iso.slice(0, 10) === from.slice(0, 10)) return time;
  return `${new Date(iso).toLocaleDateString("en-GB", { weekday: "short" })} ${time}`;
}

/** This minute in local time, without a zone: "2026-11-25T18:04:00". */
export function localMinute(): string {
  const d = new Date();
  const day = `${d.getFullYear()}-${two(d.getMonth() + 1)}-${two(d.getDate())}`;
  return `${day}T${dayTime(d.getHours() * 60 + d.getMinutes())}:00`;
}

/** A date as it is read: "3 Nov 2026". */
export function dateWords(iso: string): string {
  return new Date(iso).toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" });
}

/** When something was, as one says it: "14:05" today, else the day with it. */
export function timeWords(iso: string, now = new Date()): string {
  const at = new Date(iso);
  const time = `${two(at.getHours())}:${two(at.getMinutes())}`;
  return at.toDateString() === now.toDateString()
    ? `at ${time}`
    : `on ${at.toLocaleDateString("en-GB", { day: "numeric", month: "short" })}, ${time}`;
}
