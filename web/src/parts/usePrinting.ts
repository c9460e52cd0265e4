import { useLayoutEffect, useState } from "react";
import { flushSync } from "react-dom";

/** Whether the page is being printed: then all is drawn that stays undrawn on a screen. */
export function usePrinting(): boolean {
  const [printing, setPrinting] = useState(false);
  useLayoutEffect(() => {
    const begin = () => flushSync(() => setPrinting(true));
    const end = () => setPrinting(false);
    window.addEventListener("beforeprint", begin);
    window.addEventListener("afterprint", end);
    return () => {
      window.removeEventListener("beforeprint", begin);
      window.removeEventListener("afterprint", end);
    };
  }, []);
  return printing;
}
