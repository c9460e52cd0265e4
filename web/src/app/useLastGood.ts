import { useRef } from "react";

/** The value, or the last one there was: a plan that worked stays on the screen while a figure is mended. */
export function useLastGood<T>(value: T | undefined): T | undefined {
  const last = useRef(value);
  if (value !== undefined) last.current = value;
  return last.current;
}
