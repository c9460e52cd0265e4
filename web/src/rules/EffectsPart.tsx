import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import type { Effect, RuleSet } from "@/api/types";
import { NO_MODEL } from "@/app/lastModel";
import { usePickOf } from "@/app/picked";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { Failed } from "@/parts/Failed";
import { Figure } from "@/parts/Figure";
import { effectsQuery } from "@/rules/queries";

/** What follows a set here and now, beside what would follow it as it came. */
export function EffectsPart({ set, model }: { set: RuleSet; model: string }) {
  const pick = usePickOf(model);
  const { data, error, refetch } = useQuery({
    ...effectsQuery(set.id, model, pick),
    enabled: model !== NO_MODEL,
  });
  const p = usePreferences();
  if (model === NO_MODEL)
    return (
      <aside aria-label="What follows" className="text-ink-faint">
        Timer, alarm and due dates that follow a set stand here once there is a{" "}
        <Link to="/new" className="action">
          model of yours
        </Link>
        .
      </aside>
    );
  if (error && !data)
    return (
      <aside aria-label="What follows" className="text-ink-faint">
        <Failed error={error} onRetry={() => void refetch()} className="" />
      </aside>
    );
  if (!data)
    return (
      <aside aria-label="What follows" className="text-ink-faint" aria-busy="true">
        Looking at what follows…
      </aside>
    );
  const { now, starting } = data;
  const alike = JSON.stringify(set.values) === JSON.stringify(set.starting);
  const lines: [string, (e: Effect) => string][] = [
    ["Timer", (e) => e.timer || "–"],
    ["Use at most", (e) => (e.budget_mah === null ? "–" : worded("charge", e.budget_mah, p))],
    ["Alarm, a cell", (e) => (e.alarm_cell_v === null ? "–" : worded("cell_voltage", e.alarm_cell_v))],
  ];
  return (
    <aside
      aria-label="What follows"
      className="self-start border-t pt-3 lg:sticky lg:top-4 lg:border-t-0 lg:pt-0"
    >
      <h2 className="font-semibold">What follows now</h2>
      <table className="mt-2 w-full text-plain">
        <thead>
          <tr className="text-left text-small text-ink-faint">
            <th scope="col" className="font-normal">
              {data.pack ? `${data.model}, pack ${data.pack}, full` : data.model}
            </th>
            <th scope="col" className="text-right font-normal">
              as set
            </th>
            {!alike && (
              <th scope="col" className="text-right font-normal">
                as it came
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {lines.map(([name, of]) => (
            <tr key={name} className="border-t border-hollow">
              <th scope="row" className="py-1 text-left font-normal">
                {name}
              </th>
              <td className="number py-1 text-right font-semibold">
                {name === "Timer" ? (
                  <Figure working={now.timer_working ?? undefined} label="Timer">
                    {of(now)}
                  </Figure>
                ) : (
                  of(now)
                )}
              </td>
              {!alike && <td className="number py-1 text-right text-ink-faint">{of(starting)}</td>}
            </tr>
          ))}
        </tbody>
      </table>
      <Part
        title="On the bench"
        now={batches(now)}
        before={batches(starting)}
        none="Nothing on the bench wants a charge."
      />
      <Part title="On the shelf" now={due(now)} before={due(starting)} none="Nothing is due." />
      <Part title="Verdicts" now={verdicts(now)} before={verdicts(starting)} none="All packs are sound." />
    </aside>
  );
}

type PartProps = { title: string; now: string; before: string; none: string };

function Part({ title, now, before, none }: PartProps) {
  return (
    <section className="mt-4 text-plain" aria-label={title}>
      <h3 className="heading">{title}</h3>
      <p className="mt-0.5 font-medium">{now || none}</p>
      {before !== now && <p className="text-ink-faint">As it came: {before || none}</p>}
    </section>
  );
}

function batches(e: Effect): string {
  if (e.batches.length === 0) return "";
  return `${e.batches.length} batch${e.batches.length === 1 ? "" : "es"}: ${e.batches.join(", ")}.`;
}

function due(e: Effect): string {
  if (e.due.length === 0) return "";
  const late = e.overdue.length > 0 ? `; overdue: ${e.overdue.join(", ")}` : "";
  return `To storage: ${e.due.join(", ")}${late}.`;
}

function verdicts(e: Effect): string {
  const names = { again: "read again", watch: "watch", light: "light duty", retire: "retire" } as const;
  return (Object.keys(names) as (keyof typeof names)[])
    .filter((level) => (e.verdicts[level] ?? []).length > 0)
    .map((level) => `${names[level]}: ${(e.verdicts[level] ?? []).join(", ")}`)
    .join("; ");
}
