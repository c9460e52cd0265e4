import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { choicesQuery } from "@/app/queries";
import { SaveLine } from "@/app/SaveLine";
import { UndoButton } from "@/app/UndoButton";
import type { BenchStore } from "@/stages/charge/useBench";

const FIELD = "field py-0.5 font-medium";

type Props = { store: BenchStore; problems: ReadonlyMap<string, string> };

/** House rules, when it is to be ready, and when somebody is at the bench. */
export function BenchRules({ store, problems }: Props) {
  const { bench, change } = store;
  const { data: choices } = useQuery(choicesQuery);
  const span = bench.attended[0] ?? { start: "07:00", end: "22:00" };
  const due = problems.get("ready_by");
  const away = problems.get("attended") ?? problems.get("attended.0.start") ?? problems.get("attended.0.end");
  return (
    <div className="print-hidden mt-2 flex flex-wrap items-end gap-x-6 gap-y-2 text-plain">
      <div className="grid">
        <span className="flex items-baseline gap-3 text-small text-ink-faint">
          <label htmlFor="bench-rules">House rules</label>
          <Link to="/rules" search={{ set: bench.house_rules }} className="action">
            every rule
          </Link>
        </span>
        <select
          id="bench-rules"
          className={FIELD}
          value={bench.house_rules}
          onChange={(e) => change("House rules", { house_rules: e.target.value })}
        >
          {(choices?.house_rules ?? []).map((c) => (
            <option key={c.id} value={c.id}>
              {c.name}
            </option>
          ))}
        </select>
      </div>
      <div className="grid">
        <label htmlFor="bench-ready" className="text-small text-ink-faint">
          Ready by
        </label>
        <input
          id="bench-ready"
          type="datetime-local"
          className={FIELD}
          value={bench.ready_by?.slice(0, 16) ?? ""}
          aria-invalid={due ? true : undefined}
          aria-describedby={due ? "bench-ready-wrong" : undefined}
          onChange={(e) => change("Ready by", { ready_by: e.target.value ? `${e.target.value}:00` : null })}
        />
      </div>
      <fieldset className="flex items-end gap-1.5">
        <legend className="text-small text-ink-faint">Somebody is at the bench</legend>
        <input
          type="time"
          aria-label="From"
          className={FIELD}
          value={span.start}
          aria-invalid={away ? true : undefined}
          onChange={(e) =>
            e.target.value && change("At the bench", { attended: [{ ...span, start: e.target.value }] })
          }
        />
        <span className="pb-0.5">to</span>
        <input
          type="time"
          aria-label="To"
          className={FIELD}
          value={span.end === "24:00" ? "23:59" : span.end}
          aria-invalid={away ? true : undefined}
          onChange={(e) =>
            e.target.value && change("At the bench", { attended: [{ ...span, end: e.target.value }] })
          }
        />
      </fieldset>
      <UndoButton className="pb-0.5" />
      <SaveLine of={store.saving} quiet />
      {due && (
        <p id="bench-ready-wrong" role="alert" className="basis-full text-small text-alert">
          {due}
        </p>
      )}
      {away && (
        <p role="alert" className="basis-full text-small text-alert">
          {away}
        </p>
      )}
    </div>
  );
}
