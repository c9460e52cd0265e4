import { useCallback, useState } from "react";

/** The width of an element as it is laid out, for a drawing to fill; also of one that comes later. */
export function useWidth<T extends Element>(standard: number) {
  const [width, setWidth] = useState(standard);
  const ref = useCallback((element: T | null) => {
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setWidth(Math.max(240, Math.round(entry.contentRect.width)));
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [ref, width] as const;
}
