import type { Plan } from "@/api/types";
import { usePreferences } from "@/format/preferences";
import { loadingText, shown, unitOf } from "@/format/quantity";

const MOST_ROWS = 60;

type Props = { plan: Plan; onPick: (id: string) => void };

/** The plot for those who cannot see it: what does the job and what lies on the front, the lightest first. */
export default function FieldTable({ plan, onPick }: Props) {
  const p = usePreferences();
  const { ids, names, kinds, mass_g, minutes, loading, feasible } = plan.field;
  const front = new Set(plan.front);
  const rows = ids
    .map((id, i) => ({ id, i }))
    .filter(({ i }) => front.has(i) || (feasible[i] && kinds[i] !== "generic"))
    .sort((a, b) => (mass_g[a.i] ?? 0) - (mass_g[b.i] ?? 0))
    .slice(0, MOST_ROWS);
  return (
    <table className="mt-1 w-full text-right [&_td]:px-2 [&_th]:px-2">
      <caption className="text-left">
        Packs that do the job, and those than which none is lighter and longer; the lightest first.
      </caption>
      <thead>
        <tr>
          <th scope="col" className="text-left">
            Pack
          </th>
          <th scope="col">{unitOf("mass", p)}</th>
          <th scope="col">min</th>
          <th scope="col">hottest link</th>
          <th scope="col">does the job</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ id, i }) => (
          <tr key={id}>
            <th scope="row" className="text-left font-normal">
              <button type="button" className="action" onClick={() => onPick(id)}>
                {names[i]}
              </button>
            </th>
            <td className="number">{shown("mass", mass_g[i] ?? 0, p).text}</td>
            <td className="number">{Math.round(minutes[i] ?? 0)}</td>
            <td className="number">{loadingText(loading[i] ?? 0)}</td>
            <td>{feasible[i] ? "yes" : "no"}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
