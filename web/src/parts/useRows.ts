import { useWindowVirtualizer } from "@tanstack/react-virtual";
import { type FocusEvent, type KeyboardEvent, useCallback, useLayoutEffect, useRef, useState } from "react";
import { usePrinting } from "@/parts/usePrinting";

/** So many rows are drawn whole; of more, those near the window. */
const WHOLE = 40;
const BEYOND = 6;
const CONTROLS = "a[href], button:not(:disabled), input, select";
const STEPS: Record<string, [rows: number, controls: number]> = {
  ArrowDown: [1, 0],
  ArrowUp: [-1, 0],
  PageDown: [10, 0],
  PageUp: [-10, 0],
  ArrowRight: [0, 1],
  ArrowLeft: [0, -1],
};

export type Rows<T extends HTMLElement> = {
  /** The element that holds the rows; each row has its index as data-index. */
  box: (element: T | null) => void;
  shown: number[];
  /** Room for the rows that are not drawn. [px] */
  before: number;
  after: number;
  /** For each row, where rows differ in height. */
  measure: ((element: HTMLElement | null) => void) | undefined;
  /** The tab key stops in one row, at each of its controls; the arrows go on from there. */
  tab: (index: number) => 0 | -1;
  onKeyDown: (event: KeyboardEvent) => void;
  onFocus: (event: FocusEvent) => void;
};

/**
 * The rows of a list, however long: of many those near the window are drawn, all of them in print; one of
 * them can be reached by the tab key, the others from it by the arrows.
 */
export function useRows<T extends HTMLElement>(count: number, height: number): Rows<T> {
  const element = useRef<T | null>(null);
  const [top, setTop] = useState(0);
  const [at, setAt] = useState(0);
  const going = useRef<{ index: number; control: number }>(undefined);
  const printing = usePrinting();
  const whole = printing || count <= WHOLE;
  const virtual = useWindowVirtualizer({
    count: whole ? 0 : count,
    estimateSize: () => height,
    overscan: BEYOND,
    scrollMargin: top,
  });
  const box = useCallback((found: T | null) => {
    element.current = found;
  }, []);
  // what stands above may have come or gone
  useLayoutEffect(() => {
    const found = element.current;
    if (found && !whole) setTop(Math.round(found.getBoundingClientRect().top + window.scrollY));
  });
  const items = virtual.getVirtualItems();
  const shown = whole ? Array.from({ length: count }, (_, i) => i) : items.map((item) => item.index);
  const stop = shown.includes(at) ? at : shown[0];
  const focus = () => {
    const row = element.current?.querySelector(`[data-index="${going.current?.index}"]`);
    const controls = row?.querySelectorAll<HTMLElement>(CONTROLS);
    if (!going.current || !controls) return;
    controls[Math.min(going.current.control, controls.length - 1)]?.focus();
    going.current = undefined;
  };
  // a row that was not drawn has the focus once it is
  useLayoutEffect(focus);
  const go = (index: number, control: number) => {
    going.current = { index, control };
    setAt(index);
    if (!whole) virtual.scrollToIndex(index, { align: "auto" });
    focus();
  };
  return {
    box,
    shown,
    before: whole ? 0 : (items[0]?.start ?? top) - top,
    after: whole ? 0 : virtual.getTotalSize() - ((items.at(-1)?.end ?? top) - top),
    measure: whole ? undefined : virtual.measureElement,
    tab: (index) => (index === stop ? 0 : -1),
    onFocus: (event) => {
      const index = rowOf(event.target)?.getAttribute("data-index");
      if (index) setAt(Number(index));
    },
    onKeyDown: (event) => {
      const step = STEPS[event.key];
      const target = event.target as HTMLElement;
      const row = rowOf(target);
      if (!step || !row || target.matches("input:not([type=checkbox]), select")) return;
      const controls = [...row.querySelectorAll<HTMLElement>(CONTROLS)];
      const from = Number(row.getAttribute("data-index"));
      const to = Math.min(Math.max(from + step[0], 0), count - 1);
      const control = controls.indexOf(target) + step[1];
      if (control < 0 || control >= controls.length) return;
      event.preventDefault();
      if (to !== from || step[1] !== 0) go(to, control);
    },
  };
}

function rowOf(target: EventTarget): HTMLElement | null {
  return target instanceof Element ? target.closest<HTMLElement>("[data-index]") : null;
}
