import { useQuery } from "@tanstack/react-query";
import type { DayAhead, DayAheadAsk } from "@/api/types";
import { modelsQuery } from "@/app/queries";
import { NumberField } from "@/parts/NumberField";
import { TimeField } from "@/parts/TimeField";
import { LevelLine } from "@/stages/run/tomorrow/LevelLine";

type Props = {
  draft: DayAheadAsk;
  answer: DayAhead | undefined;
  problems: ReadonlyMap<string, string>;
  told: ReadonlySet<string>;
  flights: number;
  onTold: (model: string) => void;
  onChange: (draft: DayAheadAsk) => void;
};

/** What is wanted of which models, from when, what comes along, and who is with the chargers before. */
export function DayForm({ draft, answer, problems, told, flights, onTold, onChange }: Props) {
  const { data: models = [] } = useQuery(modelsQuery);
  const name = (slug: string) => models.find((m) => m.slug === slug)?.name ?? slug;
  const left = models.filter((m) => !draft.wishes.some((w) => w.model === m.slug));
  const set = (more: Partial<DayAheadAsk>) => onChange({ ...draft, ...more });
  const started = problems.get("start") ?? problems.get("end");
  const { start = "07:00", end = "22:00" } = (draft.attended ?? answer?.attended ?? [])[0] ?? {};
  const away = problems.get("attended");
  return (
    <div className="print-hidden mt-1">
      <ul>
        {draft.wishes.map((w, k) => (
          <li key={w.model} className="flex items-start gap-3">
            <div className="min-w-0 flex-1">
              <NumberField
                label={`Runs of ${name(w.model)}`}
                kind="count"
                value={w.flights ?? null}
                step={1}
                problem={
                  problems.get(`wishes.${k}.flights`) ?? problems.get(`wishes.${k}.model`) ?? undefined
                }
                assumed={told.has(w.model) ? undefined : () => onTold(w.model)}
                onChange={(n) => {
                  if (n === null) return;
                  onTold(w.model);
                  set({
                    wishes: draft.wishes.map((x, j) =>
                      j === k ? { ...x, flights: Math.max(1, Math.round(n)) } : x,
                    ),
                  });
                }}
              />
            </div>
            <button
              type="button"
              className="action min-h-8 px-1"
              aria-label={`Without ${name(w.model)}`}
              onClick={() => set({ wishes: draft.wishes.filter((_, j) => j !== k) })}
            >
              ×
            </button>
          </li>
        ))}
      </ul>
      {draft.wishes.length === 0 && problems.get("wishes") && (
        <p role="alert" className="text-small text-alert">
          {problems.get("wishes")}
        </p>
      )}
      {left.length > 0 && (
        <select
          aria-label="One more model"
          className="field mt-1 py-0.5"
          value=""
          onChange={(e) =>
            e.target.value &&
            set({ wishes: [...draft.wishes, { model: e.target.value, flights, minutes: null }] })
          }
        >
          <option value="">One more model…</option>
          {left.map((m) => (
            <option key={m.slug} value={m.slug}>
              {m.name}
            </option>
          ))}
        </select>
      )}
      <div className="mt-2 flex flex-wrap items-end gap-x-5 gap-y-2 text-plain">
        <div className="grid">
          <label htmlFor="day-start" className="text-small text-ink-faint">
            From
          </label>
          <span className="flex items-end gap-1.5">
            <TimeField
              label="From"
              id="day-start"
              value={draft.start.slice(11, 16)}
              wrong={started !== undefined}
              describedBy={started ? "day-start-wrong" : undefined}
              onChange={(time) => time && set({ start: `${draft.start.slice(0, 10)}T${time}:00` })}
            />
            <input
              type="date"
              aria-label="The day"
              className="field py-0.5 font-medium"
              value={draft.start.slice(0, 10)}
              onChange={(e) => e.target.value && set({ start: `${e.target.value}${draft.start.slice(10)}` })}
            />
          </span>
        </div>
        <div className="w-40">
          <NumberField
            label="Hours"
            kind="count"
            value={draft.hours}
            step={1}
            problem={problems.get("hours")}
            onChange={(v) => v !== null && set({ hours: v })}
          />
        </div>
        <fieldset className="flex items-end gap-1.5">
          <legend className="text-small text-ink-faint">Before, somebody is with the chargers</legend>
          <TimeField
            label="With the chargers from"
            value={start}
            wrong={away !== undefined}
            onChange={(from) => from && set({ attended: [{ start: from, end }] })}
          />
          <span className="pb-0.5">to</span>
          <TimeField
            label="With the chargers to"
            value={end === "24:00" ? "23:59" : end}
            wrong={away !== undefined}
            onChange={(to) => to && set({ attended: [{ start, end: to }] })}
          />
        </fieldset>
      </div>
      {started && (
        <p id="day-start-wrong" role="alert" className="mt-1 text-small text-alert">
          {started}
        </p>
      )}
      {away && (
        <p role="alert" className="mt-1 text-small text-alert">
          {away}
        </p>
      )}
      {answer && <Along draft={draft} answer={answer} problems={problems} onChange={set} />}
    </div>
  );
}

type AlongProps = {
  draft: DayAheadAsk;
  answer: DayAhead;
  problems: ReadonlyMap<string, string>;
  onChange: (more: Partial<DayAheadAsk>) => void;
};

/** The chargers that come along, and what feeds each there. */
function Along({ draft, answer, problems, onChange }: AlongProps) {
  if (answer.along.length === 0) return null;
  const now =
    draft.there ??
    answer.along
      .filter((c) => c.along)
      .map(({ charger, source, supply }) => ({ charger, source, supply: supply ?? null }));
  const wrong = [...problems].find(([field]) => field.startsWith("there"))?.[1];
  return (
    <fieldset className="mt-2 text-plain">
      <legend className="text-small text-ink-faint">Along, to charge there</legend>
      {answer.along.map((c) => {
        const used = now.find((x) => x.charger === c.charger);
        return (
          <div key={c.charger} className="flex flex-wrap items-baseline gap-x-3">
            <label className="flex min-h-6 items-baseline gap-1.5">
              <input
                type="checkbox"
                checked={used !== undefined}
                onChange={(e) =>
                  onChange({
                    there: e.target.checked
                      ? [...now, { charger: c.charger, source: sourceOf(c), supply: c.supplies[0] ?? null }]
                      : now.filter((x) => x.charger !== c.charger),
                  })
                }
              />
              <span>
                {c.name}
                {c.ports > 1 && <span className="text-ink-faint">, {c.ports} ports</span>}
              </span>
            </label>
            {used && (
              <select
                aria-label={`What feeds ${c.name} there`}
                className="field py-0 text-small"
                value={used.source === "mains" ? "mains" : (used.supply ?? "")}
                onChange={(e) => {
                  const mains = e.target.value === "mains";
                  const fed = {
                    charger: c.charger,
                    source: mains ? ("mains" as const) : ("dc" as const),
                    supply: mains ? null : e.target.value,
                  };
                  onChange({ there: now.map((x) => (x.charger === c.charger ? fed : x)) });
                }}
              >
                {c.supplies.map((s) => (
                  <option key={s} value={s}>
                    {answer.supply_names[s] ?? s}
                  </option>
                ))}
                {c.inputs.includes("mains") && <option value="mains">the mains</option>}
              </select>
            )}
          </div>
        );
      })}
      {answer.supplies
        .filter((s) => now.some((x) => x.supply === s.supply))
        .map((s) => (
          <LevelLine key={s.supply} supply={s} />
        ))}
      {wrong && (
        <p role="alert" className="text-small text-alert">
          {wrong}
        </p>
      )}
    </fieldset>
  );
}

const sourceOf = (c: DayAhead["along"][number]) =>
  c.supplies.length > 0 ? ("dc" as const) : ("mains" as const);
