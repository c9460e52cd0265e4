import { useLayoutEffect, useRef, useState } from "react";

/** The width of an element as it is laid out, so that a drawing fills it. */
export function useWidth<T extends Element>(standard: number) {
  const ref = useRef<T>(null);
  const [width, setWidth] = useState(standard);
  useLayoutEffect(() => {
    const element = ref.current;
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setWidth(Math.max(240, Math.round(entry.contentRect.width)));
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [ref, width] as const;
}
