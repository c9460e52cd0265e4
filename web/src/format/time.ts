import type { Preferences } from "@/format/preferences";

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

/** Minutes of the day as a time: 545 → "09:05" or "9:05 am"; full hours "9 am". */
export function dayTime(minutes: number, p: Preferences): string {
  const hour = Math.floor(minutes / 60) % 24;
  if (p.time === "24") return `${two(hour)}:${two(minutes % 60)}`;
  const part = minutes % 60 < 1 ? "" : `:${two(minutes % 60)}`;
  return `${hour % 12 || 12}${part} ${hour < 12 ? "am" : "pm"}`;
}

/** A time as people write it, as it is kept: "9:05", "905", "9.05", "9", "2:30 pm" → "14:30". */
export function readTime(text: string): string | undefined {
  const found = /^(\d{1,2})(?:[:. h]?(\d{2}))? *([ap])?\.?m?\.?$/i.exec(text.trim());
  if (!found) return undefined;
  const [, hours, minutes = "0", half] = found;
  const hour = half ? (Number(hours) % 12) + (half.toLowerCase() === "p" ? 12 : 0) : Number(hours);
  const outside = hour > 23 || Number(minutes) > 59 || (half && (Number(hours) > 12 || Number(hours) < 1));
  return outside ? undefined : `${two(hour)}:${two(Number(minutes))}`;
}

/** Minutes of the day of a kept time: "14:30" → 870. */
export function minutesOf(time: string): number {
  return Number(time.slice(0, 2)) * 60 + Number(time.slice(3, 5));
}

/** The time of a moment without a zone, with the day of the week where it is not the day of `from`. */
export function timeOf(iso: string, p: Preferences, from?: string): string {
  const time = dayTime(minutesOf(iso.slice(11, 16)), p);
  if (!from || iso.slice(0, 10) === from.slice(0, 10)) return time;
  return `${new Date(iso).toLocaleDateString("en-GB", { weekday: "short" })} ${time}`;
}

/** This minute, or that of another moment, in local time, without a zone: "2026-11-25T18:04:00". */
export function localMinute(d = new Date()): string {
  const day = `${d.getFullYear()}-${two(d.getMonth() + 1)}-${two(d.getDate())}`;
  return `${day}T${two(d.getHours())}:${two(d.getMinutes())}:00`;
}

/** That time on the day that was chosen; without one, when it is that time next: "09:00". */
export function nextAt(time: string, before = "", now = localMinute()): string {
  if (before) return `${before.slice(0, 10)}T${time}:00`;
  const day = new Date(`${now.slice(0, 10)}T12:00:00`);
  if (time <= now.slice(11, 16)) day.setDate(day.getDate() + 1);
  return `${localMinute(day).slice(0, 10)}T${time}:00`;
}

/** A date as it is read: "3 Nov 2026". */
export function dateWords(iso: string): string {
  return new Date(iso).toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" });
}

/** When something was, as one says it: "14:05" today, else the day with it. */
export function timeWords(iso: string, p: Preferences, now = new Date()): string {
  const at = new Date(iso);
  const time = dayTime(at.getHours() * 60 + at.getMinutes(), p);
  return at.toDateString() === now.toDateString() ? `at ${time}` : `on ${dayOf(at)}, ${time}`;
}

/** The same without the little word before it: "14:05", "3 Nov, 14:05". */
export function timeAlone(iso: string, p: Preferences): string {
  return timeWords(iso, p).replace(/^(?:at|on) /, "");
}

/** A moment of a list: "3 Nov, 14:05". */
export function momentWords(iso: string, p: Preferences): string {
  const at = new Date(iso);
  return `${dayOf(at)}, ${dayTime(at.getHours() * 60 + at.getMinutes(), p)}`;
}

function dayOf(at: Date): string {
  return at.toLocaleDateString("en-GB", { day: "numeric", month: "short" });
}
