import type { Described } from "@/api/types";
import { rounded } from "@/format/quantity";
import { Figure } from "@/parts/Figure";
import { Stack } from "@/parts/Stack";

type Props = { described: Described | undefined; problem: string | undefined; busy: boolean };

const ENOUGH =
  "Its kind, its mass and its cells are enough for a first answer; " +
  "so are its cells, the motor’s kV and its propeller.";
const LINKS = ["Cells", "Leads", "Plug", "Controller"];

/** What the answers come to, as a stack that fills while one types. */
export function Forming({ described, problem, busy }: Props) {
  return (
    <aside
      aria-label="What follows from it"
      aria-busy={busy}
      className="mt-6 border-t pt-4 md:sticky md:top-4 md:mt-10 md:self-start md:border-l md:border-t-0
        md:pl-8 md:pt-0"
    >
      {described ? (
        <>
          <h2 className="text-lead font-semibold leading-5">{described.now}</h2>
          <p className="mt-0.5 text-plain text-ink-soft">
            {written(described.average_a)} A average
            <Between low={described.average_low_a} high={described.average_high_a} />,{" "}
            {written(described.peak_a)} A peak
            <Between low={described.peak_low_a} high={described.peak_high_a} />, {described.true_for}; lands
            after about{" "}
            <Figure working={described.working} label="Minutes" className="number">
              {written(described.minutes)} min
            </Figure>
            <Between low={described.minutes_low} high={described.minutes_high} />.
          </p>
          {described.narrow && (
            <p className="mt-2 border-l-4 border-fjord pl-2 text-plain">{described.narrow.sentence}</p>
          )}
          <div className="mt-3 md:pl-4">
            <Stack plates={described.plates} label="The pack of now in this model" />
          </div>
          {described.assumed.length > 0 && (
            <>
              <h3 className="heading mt-4">Assumed, until you say</h3>
              <ul className="mt-1 space-y-0.5 text-small text-ink-soft">
                {described.assumed.map((a) => (
                  <li key={a.field} className="border-b border-dashed border-rule-strong pb-0.5">
                    {ASSUMED[a.field] ?? a.field}: {a.words}
                  </li>
                ))}
              </ul>
            </>
          )}
        </>
      ) : (
        <>
          <h2 className="text-lead font-semibold leading-5 text-ink-faint">Nothing to say yet</h2>
          <p className="mt-0.5 text-plain text-ink-faint">{problem ?? ENOUGH}</p>
          <ol aria-hidden="true" className="mt-3 space-y-2 md:pl-5">
            {LINKS.map((name) => (
              <li
                key={name}
                className="border border-dashed border-rule-strong px-2 py-1.5 text-small text-ink-faint"
              >
                {name}
              </li>
            ))}
          </ol>
        </>
      )}
    </aside>
  );
}

/** Nine in ten lie between; nothing where the figure is known so well that both ends read alike. */
function Between({ low, high }: { low: number; high: number }) {
  if (written(low) === written(high)) return null;
  return (
    <span className="number text-ink-faint">
      {" "}
      ({written(low)} to {written(high)})
    </span>
  );
}

/** A figure as people write one that is not exact: two digits, from a hundred on in tens. */
function written(value: number): string {
  return String(rounded(value, value < 1000 ? 2 : 3));
}

const ASSUMED: Record<string, string> = {
  mass_g: "Mass without the pack",
  "now.capacity_ah": "Capacity of its pack",
  "now.mass_g": "Mass of the pack",
  "now.label_c": "C of its pack",
  "draw.average_a": "Average",
  "draw.peak_a": "Peak",
  "draw.peak_s": "The peak lasts",
  "draw.peak_every_s": "The peak comes",
  "electronics.max_v": "Highest volts",
  "electronics.controllers": "Controllers",
  "electronics.controller_continuous_a": "Controller",
  "electronics.plug": "Plug",
  "electronics.lead_awg": "Leads",
  "electronics.cutoff": "Low-voltage cut-off",
};
