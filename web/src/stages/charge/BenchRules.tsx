import { useQuery } from "@tanstack/react-query";
import { choicesQuery } from "@/app/queries";
import { SaveLine } from "@/app/SaveLine";
import { UndoButton } from "@/app/UndoButton";
import { nextAt } from "@/format/time";
import { TimeField } from "@/parts/TimeField";
import type { BenchStore } from "@/stages/charge/useBench";

const FIELD = "field py-0.5 font-medium";

type Props = { store: BenchStore; problems: ReadonlyMap<string, string> };

/** House rules, when it is to be ready, and when somebody is at the bench. */
export function BenchRules({ store, problems }: Props) {
  const { bench, change } = store;
  const { data: choices } = useQuery(choicesQuery);
  const ready = bench.ready_by ?? "";
  const span = bench.attended[0] ?? { start: "07:00", end: "22:00" };
  const due = problems.get("ready_by");
  const away = problems.get("attended") ?? problems.get("attended.0.start") ?? problems.get("attended.0.end");
  return (
    <div className="print-hidden mt-2 flex flex-wrap items-end gap-x-6 gap-y-2 text-plain">
      <div className="grid">
        <label htmlFor="bench-rules" className="text-small text-ink-faint">
          House rules
        </label>
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
        <span className="flex items-end gap-1.5">
          <TimeField
            label="Ready by"
            id="bench-ready"
            optional
            value={ready.slice(11, 16)}
            wrong={due !== undefined}
            describedBy={due ? "bench-ready-wrong" : undefined}
            onChange={(time) => change("Ready by", { ready_by: time ? nextAt(time, ready) : null })}
          />
          {ready && (
            <input
              type="date"
              aria-label="On the day"
              className={FIELD}
              value={ready.slice(0, 10)}
              onChange={(e) =>
                e.target.value && change("Ready by", { ready_by: `${e.target.value}${ready.slice(10)}` })
              }
            />
          )}
        </span>
      </div>
      <fieldset className="flex items-end gap-1.5">
        <legend className="text-small text-ink-faint">Somebody is at the bench</legend>
        <TimeField
          label="From"
          value={span.start}
          wrong={away !== undefined}
          onChange={(start) => start && change("At the bench", { attended: [{ ...span, start }] })}
        />
        <span className="pb-0.5">to</span>
        <TimeField
          label="To"
          value={span.end === "24:00" ? "23:59" : span.end}
          wrong={away !== undefined}
          onChange={(end) => end && change("At the bench", { attended: [{ ...span, end }] })}
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
