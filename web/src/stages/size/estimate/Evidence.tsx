import type { Estimate } from "@/api/types";
import { rounded } from "@/format/quantity";

type Current = NonNullable<Estimate["average"]>;
type Props = { title: string; current: Current; measured: Estimate["logged"] };

/** A current with all that speaks for it: each piece a line from its low to its high end, on one scale by
 * ratio, and what they come to together above them. */
export function Evidence({ title, current, measured }: Props) {
  const ends = [...current.pieces, current].flatMap((p) => [p.low_a, p.high_a]);
  if (measured) ends.push(measured.measured_a);
  const [low, high] = [Math.min(...ends), Math.max(...ends)];
  const at = (amps: number) => (100 * Math.log(amps / low)) / Math.log(high / low || 2);
  return (
    <section aria-label={title}>
      <h3 className="heading">{title}</h3>
      <p className="mt-0.5">
        <span className="number text-lead font-semibold">{written(current.median_a)} A</span>{" "}
        <span className="number text-small text-ink-faint">
          {written(current.low_a)} to {written(current.high_a)}, nine in ten
        </span>
      </p>
      <ul className="mt-2 space-y-2.5">
        <Line words="all together" piece={current} at={at} strong />
        {current.pieces.map((p) => (
          <Line key={p.words} words={p.words} piece={p} at={at} />
        ))}
        {measured && (
          <li className="text-small">
            <span className="relative block h-2">
              <i
                className="absolute top-0 h-2 w-0.5 bg-ink"
                style={{ left: `${at(measured.measured_a)}%` }}
                aria-hidden="true"
              />
            </span>
            measured: <span className="number">{written(measured.measured_a)} A</span>
          </li>
        )}
      </ul>
    </section>
  );
}

type LineProps = {
  words: string;
  piece: { low_a: number; high_a: number; median_a: number };
  at: (amps: number) => number;
  strong?: boolean;
};

function Line({ words, piece, at, strong = false }: LineProps) {
  const [from, to, mid] = [at(piece.low_a), at(piece.high_a), at(piece.median_a)];
  return (
    <li className="text-small leading-4 text-ink-soft">
      <span className="relative block h-2" aria-hidden="true">
        <i
          className={`absolute top-0.75 ${strong ? "h-0.5 bg-ink" : "h-px bg-ink-faint"}`}
          style={{ left: `${from}%`, width: `${Math.max(to - from, 0.5)}%` }}
        />
        <i
          className={`absolute top-0 h-2 w-1 -translate-x-1/2 ${strong ? "bg-ink" : "bg-ink-faint"}`}
          style={{ left: `${mid}%` }}
        />
      </span>
      {words}: <span className="number">{written(piece.median_a)} A</span>
    </li>
  );
}

/** A figure as people write one that is not exact. */
function written(value: number): string {
  return String(rounded(value, value < 1000 ? 2 : 3));
}
