import { Link, useRouterState } from "@tanstack/react-router";
import { type Running, timerSeconds, useElapsed, useRunning } from "@/app/running";
import { useBeeping } from "@/app/sound";
import { useMarkedTitle } from "@/app/title";
import { clock } from "@/format/time";

const AGAIN_MS = 2000;

/**
 * The timer on every stage: it sounds wherever one is, and after a reload. On its own page the page shows
 * it.
 */
export function TimerLine() {
  const running = useRunning();
  return running ? <Line running={running} /> : null;
}

function Line({ running }: { running: Running }) {
  const { elapsed, left, over } = useElapsed(running);
  const here = useRouterState({
    select: (s) => s.location.pathname === `/run/${running.model}` && s.location.search.pack === running.pack,
  });
  useMarkedTitle("LAND: ", over);
  useBeeping(over, true, AGAIN_MS);
  if (here) return null;
  const { seconds, plus } = timerSeconds(elapsed, left);
  const look = over ? "border-alert bg-sheet font-semibold text-alert" : "bg-hollow";
  return (
    <p role={over ? "alert" : undefined} className={`no-print border-b px-4 py-1 text-small md:px-6 ${look}`}>
      {over ? "Land now: pack " : "Running: pack "}
      <span className="number font-semibold">{running.pack}</span>,{" "}
      <span className="number font-semibold">
        {plus && "+"}
        {clock(seconds)}
      </span>{" "}
      {left === undefined ? "so far" : plus ? "over" : "left"}.{" "}
      <Link
        to="/run/$model"
        params={{ model: running.model }}
        search={{ pack: running.pack }}
        className="action"
      >
        Its timer
      </Link>
    </p>
  );
}
