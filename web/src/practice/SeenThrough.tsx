import { useEffect, useState } from "react";
import type { PracticeRan } from "@/api/types";
import { BoardChart, OwnAmps } from "@/charts/BoardChart";
import { CellChart } from "@/charts/CellChart";
import { CellsPicture } from "@/drawings/CellsPicture";
import { bare } from "@/format/quantity";
import { secondsWords } from "@/format/time";

const SHOWN_MS = 4000;

/** An answer seen through: a charge as it was set, cell by cell, in quick motion; or the rush on a board. */
export function SeenThrough({ ran }: { ran: PracticeRan }) {
  return (
    <section aria-label="Seen through" className="mt-3 border bg-sheet px-4 py-3">
      <h3 className="heading">{ran.title}</h3>
      {ran.unit === "A" ? <Rush ran={ran} /> : <Charge ran={ran} />}
    </section>
  );
}

function Rush({ ran }: { ran: PracticeRan }) {
  const tags = ran.lines.map((l) => l.name);
  const first = {
    charge_a: 0,
    time_s: ran.time_s,
    current_a: ran.lines.map((l) => l.values),
    own_a: ran.lines.map((l) => l.limit),
  };
  return (
    <>
      <BoardChart first={first} tags={tags} height={170} />
      <OwnAmps first={first} tags={tags} />
      <Moments ran={ran} until={Number.POSITIVE_INFINITY} />
    </>
  );
}

function Charge({ ran }: { ran: PracticeRan }) {
  const last = ran.time_s.length - 1;
  const [at, setAt] = useMotion(last);
  const now = ran.time_s[at] ?? 0;
  const minutes = ran.time_s.map((s) => s / 60);
  const all = ran.lines.flatMap((l) => l.values);
  const marks = new Map(
    ran.moments.filter((m) => m.time_s <= now && m.cell).map((m) => [m.cell, m.mark ?? ""]),
  );
  const volts = ran.lines.map((l) => l.values[at] ?? null);
  const low = Math.min(...all);
  const full = ran.lines[0]?.limit ?? 0;
  const high = Math.max(...all, full);
  return (
    <>
      <div className="mt-1 grid gap-x-6 gap-y-3 md:grid-cols-[minmax(0,1fr)_auto]">
        <CellChart
          name="Its cells"
          minutes={minutes.slice(0, at + 1)}
          cells={ran.lines.map((l) => l.values.slice(0, at + 1))}
          full={full}
          height={190}
          within={{ minutes: minutes[last] ?? 1, low, high }}
        />
        <CellsPicture
          cells={volts.map((v, i) => ({
            number: i + 1,
            volts: v,
            mohm: null,
            mark: marks.get(i + 1) ?? "",
            under_mv: null,
          }))}
          sentence={`After ${elapsed(now)}: ${volts.map(inWords).join(", ")}`}
          lowest={low}
          highest={high}
          legend="V"
        />
      </div>
      <label className="mt-1 flex items-center gap-3 text-small">
        <span className="number w-24 shrink-0">after {elapsed(now)}</span>
        <input
          type="range"
          min={0}
          max={last}
          value={at}
          aria-label="Moment of the charge"
          aria-valuetext={`after ${elapsed(now)}`}
          className="min-h-6 flex-1 accent-(--fjord)"
          onChange={(e) => setAt(Number(e.target.value))}
        />
      </label>
      <Moments ran={ran} until={at === last ? Number.POSITIVE_INFINITY : now} />
    </>
  );
}

const inWords = (volts: number | null, i: number) => `cell ${i + 1} ${bare("cell_voltage", volts, "?")} V`;
const elapsed = (seconds: number) =>
  seconds < 90 ? secondsWords(seconds) : `${Math.round(seconds / 60)} min`;

/** What has happened by now, and, when it is over, what it costs. */
function Moments({ ran, until }: { ran: PracticeRan; until: number }) {
  return (
    <>
      <ol className="mt-2 space-y-1">
        {ran.moments
          .filter((m) => m.time_s <= until)
          .map((m) => (
            <li key={m.sentence} className="flex gap-3">
              {ran.unit === "V" && (
                <span className="number w-16 shrink-0 text-small leading-5 text-ink-faint">
                  {elapsed(m.time_s)}
                </span>
              )}
              <span className={m.outcome === "dangerous" ? "font-semibold text-alert" : ""}>
                {m.sentence}
              </span>
            </li>
          ))}
      </ol>
      {until === Number.POSITIVE_INFINITY && <p className="mt-2">{ran.sentence}</p>}
    </>
  );
}

/** From the first sample to the last in a few seconds; at once where motion is not wanted. */
function useMotion(last: number): [number, (at: number) => void] {
  const [at, setAt] = useState(() => (still() ? last : 0));
  const [moving, move] = useState(() => !still());
  useEffect(() => {
    if (!moving) return;
    const from = performance.now();
    let frame = requestAnimationFrame(function step(now) {
      const share = Math.min((now - from) / SHOWN_MS, 1);
      setAt(Math.round(share * last));
      if (share < 1) frame = requestAnimationFrame(step);
      else move(false);
    });
    return () => cancelAnimationFrame(frame);
  }, [moving, last]);
  return [
    Math.min(at, last),
    (next) => {
      move(false);
      setAt(next);
    },
  ];
}

const still = () => window.matchMedia("(prefers-reduced-motion: reduce)").matches;
