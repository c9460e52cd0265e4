import { useCallback, useState } from "react";

/** By how much a reader's letters are larger than those that drawings are laid out for. */
let scale: number | undefined;
const measured = () => Number.parseFloat(getComputedStyle(document.documentElement).fontSize) / 16 || 1;

/** As it was when something was laid out last: a drawing that is drawn anew does not measure. */
export function lettersScale(): number {
  scale ??= measured();
  return scale;
}

/** The width of an element as it is laid out, for a `Drawing` to fill; also of one that comes later. */
export function useWidth<T extends Element>(standard: number) {
  const [width, setWidth] = useState(standard);
  const ref = useCallback((element: T | null) => {
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => {
      scale = measured();
      if (entry) setWidth(Math.round(Math.max(240, entry.contentRect.width) / scale));
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [ref, width] as const;
}
