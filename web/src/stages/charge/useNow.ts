import { useEffect, useState } from "react";
import { localMinute } from "@/format/time";

/** This minute in local time, without a zone: "2026-11-25T18:04:00". */
export function useNow(): string {
  const [now, setNow] = useState(localMinute);
  useEffect(() => {
    const timer = window.setInterval(() => setNow(localMinute()), 15_000);
    return () => window.clearInterval(timer);
  }, []);
  return now;
}

/** The value once it has been still for a while. */
export function useSettled<T>(value: T, ms: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setSettled(value), ms);
    return () => window.clearTimeout(timer);
  }, [value, ms]);
  return settled;
}
