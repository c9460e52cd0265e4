import type { Estimate } from "@/api/types";
import { worded } from "@/format/quantity";

type Props = { rows: Estimate["cells"]; geared: boolean };

/** The setup on one cell fewer and one more: what the propeller or gearing of now does there, and which one
 * keeps what matters. */
export function OtherCells({ rows, geared }: Props) {
  return (
    <section className="mt-5 border-t pt-4" aria-label="On other cells">
      <h3 className="heading">On one cell fewer, or one more</h3>
      <div className="overflow-x-auto">
        <table className="mt-1 w-full text-plain">
          <thead className="text-left text-small text-ink-faint">
            <tr>
              <th className="py-1 pr-3 font-normal">Cells</th>
              <th className="pr-3 font-normal">{geared ? "Gearing" : "Propeller"}</th>
              <th className="whitespace-nowrap pr-3 text-right font-normal">Full stick</th>
              {!geared && <th className="pr-3 text-right font-normal">Pull</th>}
              <th className="pr-3 text-right font-normal">Speed</th>
              <th className="whitespace-nowrap pr-3 text-right font-normal">Runs about</th>
              <th className="font-normal">
                <span className="sr-only">What of it</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr
                key={`${r.cells} ${r.fitted} ${r.note}`}
                className={`border-t align-baseline ${r.as_now ? "font-semibold" : ""}`}
              >
                <td className="number py-1 pr-3">{r.cells}S</td>
                <td className="number whitespace-nowrap pr-3">{r.fitted}</td>
                <td className="number whitespace-nowrap pr-3 text-right">
                  {worded("current", r.full_stick_a)}
                </td>
                {!geared && <td className="number whitespace-nowrap pr-3 text-right">{share(r.pull)}</td>}
                <td className="number whitespace-nowrap pr-3 text-right">{share(r.speed)}</td>
                <td className="number whitespace-nowrap pr-3 text-right">{worded("minutes", r.minutes)}</td>
                <td className="min-w-32 text-small text-ink-soft">
                  {r.as_now ? "as it is now" : r.note}
                  {r.loading !== null && `; ${Math.round(100 * r.loading)} % of its ${r.bound}`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

function share(of: number | null): string {
  return of === null ? "—" : worded("percent", of);
}
