import type { Described } from "@/api/types";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { Figure } from "@/ui/Figure";
import { Stack } from "@/ui/Stack";

type Props = { described: Described | undefined; problem: string | undefined; busy: boolean };

const LINKS = ["Cells", "Leads", "Plug", "Controller"];

/** What the answers come to, as a stack that fills while one types. */
export function Forming({ described, problem, busy }: Props) {
  const p = usePreferences();
  return (
    <aside
      aria-label="What follows from it"
      aria-busy={busy}
      className="mt-6 border-t pt-4 md:sticky md:top-4 md:mt-10 md:self-start md:border-l md:border-t-0 md:pl-8 md:pt-0"
    >
      {described ? (
        <>
          <h2 className="text-lead font-semibold leading-5">{described.now}</h2>
          <p className="mt-0.5 text-plain text-ink-soft">
            {worded("current", described.average_a, p)} average, {worded("current", described.peak_a, p)}{" "}
            peak, {described.true_for}; lands after about{" "}
            <Figure working={described.working} label="Minutes" className="number">
              {described.minutes.toFixed(1)} min
            </Figure>
            .
          </p>
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
          <p className="mt-0.5 text-plain text-ink-faint">
            {problem ?? "Its kind, its mass and what it runs on are enough for a first answer."}
          </p>
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

const ASSUMED: Record<string, string> = {
  "now.mass_g": "Mass of the pack",
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
