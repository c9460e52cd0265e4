import { useEffect, useState } from "react";

const SLOW_MS = 2500;

/** Whether something has waited for so long that one should not wait for it any more. */
export function useSlow(waits: boolean): boolean {
  const [slow, setSlow] = useState(false);
  useEffect(() => {
    setSlow(false);
    if (!waits) return;
    const timer = window.setTimeout(() => setSlow(true), SLOW_MS);
    return () => window.clearTimeout(timer);
  }, [waits]);
  return slow && waits;
}
