import type { FirstMinutes } from "@/api/types";
import { XAxis, YAxis } from "@/charts/Axes";
import { Chart, type ChartTable, evenly, Level, Line } from "@/charts/Chart";
import { axisScale } from "@/charts/scale";
import { useWidth } from "@/charts/useWidth";
import { bare, worded } from "@/format/quantity";

const PAD = { left: 30, right: 34, top: 26, bottom: 22 };
const DASHES = ["", "6 2", "2 2", "8 2 2 2", "1 3", "10 3"];
const APART_PX = 11;

type Props = { first: FirstMinutes; tags: string[]; height: number };

/**
 * What each pack on a board takes over the first minutes, with what it may take; each line ends with its
 * tag.
 */
export function BoardChart({ first, tags, height }: Props) {
  const [box, width] = useWidth<HTMLDivElement>(280);
  const minutes = first.time_s.map((s) => s / 60);
  const all = [...first.current_a.flat(), ...first.own_a, 0];
  const x = axisScale([0, Math.max(minutes.at(-1) ?? 0, 1)], [PAD.left, width - PAD.right], 60);
  const y = axisScale([Math.min(...all), 1.08 * Math.max(...all)], [height - PAD.bottom, PAD.top], 30);
  const owns = [...new Set(first.own_a)];
  return (
    <Chart
      box={box}
      width={width}
      height={height}
      title="amps into each, by minute"
      words={words(first, tags)}
      tables={[tableOf(first, tags)]}
    >
      <YAxis axis={y} left={PAD.left} right={width - PAD.right} />
      <XAxis axis={x} y={height - 6} />
      {owns.map((own) => (
        <Level
          key={own}
          at={y.scale(own)}
          left={PAD.left}
          right={width - PAD.right}
          stroke="var(--heat-4)"
          name={owns.length > 1 ? "" : `each at most ${worded("current", own)}`}
        />
      ))}
      {first.current_a.map((amps, k) => (
        <Line key={tags[k]} xs={minutes} ys={amps} x={x.scale} y={y.scale} dash={DASHES[k % DASHES.length]} />
      ))}
      {ends(tags, (k) => y.scale(first.current_a[k]?.at(-1) ?? 0)).map(({ text, at }) => (
        <text key={text} className="tick" x={x.scale(minutes.at(-1) ?? 0) + 4} y={at + 3}>
          {text}
        </text>
      ))}
    </Chart>
  );
}

/** What each may have, where that is not the same for all: their lines would be too close for names. */
export function OwnAmps({ first, tags }: { first: FirstMinutes; tags: string[] }) {
  if (new Set(first.own_a).size < 2) return null;
  return (
    <p className="text-small text-ink-faint">
      Dashes: at most {tags.map((tag, k) => `${bare("current", first.own_a[k])} A for ${tag}`).join(", ")}.
    </p>
  );
}

/** Tags at the ends of their lines, moved apart where they would lie on each other. */
function ends(tags: string[], at: (k: number) => number): { text: string; at: number }[] {
  const out = tags.map((text, k) => ({ text, at: at(k) })).sort((a, b) => a.at - b.at);
  for (let i = 1; i < out.length; i++) {
    const before = out[i - 1];
    const here = out[i];
    if (before && here) here.at = Math.max(here.at, before.at + APART_PX);
  }
  return out;
}

function words(first: FirstMinutes, tags: string[]): string {
  const after = Math.round((first.time_s.at(-1) ?? 0) / 60);
  const amps = (x: number | undefined) => `${bare("current", x)} A`;
  const each = tags.map((tag, k) => {
    const into = first.current_a[k] ?? [];
    const then = `${amps(into.at(-1))} after ${after} min, at most ${amps(first.own_a[k])}`;
    return `${tag} ${amps(into[0])} at first, ${then}`;
  });
  return `${togetherWords(first)}: ${each.join("; ")}.`;
}

const togetherWords = ({ charge_a }: FirstMinutes) =>
  charge_a > 0 ? `Charged at ${worded("current", charge_a)} together` : "Joined, with no charger";

function tableOf(first: FirstMinutes, tags: string[]): ChartTable {
  return {
    caption: `${togetherWords(first)}, amps into each`,
    head: ["s", ...tags],
    rows: evenly(first.time_s.length, 9).map((i) => [
      bare("whole_seconds", first.time_s[i]),
      ...first.current_a.map((amps) => bare("hundredths", amps[i])),
    ]),
  };
}
