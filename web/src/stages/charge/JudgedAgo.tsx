import { useEffect, useState } from "react";

type Props = { seconds: number; within: number; since: number };

/**
 * How long ago the watch judged a charge: by what was told, and the time that has passed since that came, in
 * case nothing comes any more; late where that is more than it may be. */
export function JudgedAgo({ seconds, within, since }: Props) {
  const passed = usePassed(since);
  const ago = Math.round(seconds + passed);
  const words = ago < 1 ? "just now" : `${ago} s ago`;
  return (
    <span className={`mt-1 block text-small ${ago > within ? "font-semibold text-alert" : "text-ink-faint"}`}>
      Judged by the watch {words}
    </span>
  );
}

/** Whole seconds since then. */
function usePassed(since: number): number {
  const [now, setNow] = useState(Date.now);
  useEffect(() => {
    const timer = window.setInterval(() => setNow(Date.now()), 1000);
    return () => window.clearInterval(timer);
  }, []);
  return Math.max(0, Math.floor((now - since) / 1000));
}
