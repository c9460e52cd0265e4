import { useNavigate } from "@tanstack/react-router";
import type { Rule, RuleSet, Rules } from "@/api/types";
import { useAct } from "@/app/act";
import { notify } from "@/app/notices";
import { SaveLine } from "@/app/SaveLine";
import { UndoButton } from "@/app/UndoButton";
import { usePreferences } from "@/format/preferences";
import { type Kind, typed, unitOf } from "@/format/quantity";
import { NumberField } from "@/parts/NumberField";
import { TextField } from "@/parts/TextField";
import { bringBack, goBy, removeSet } from "@/rules/queries";
import { useSet } from "@/rules/useSet";

const GROUPS = [
  ["run", "Running"],
  ["charge", "Charging"],
  ["store", "Storing"],
  ["health", "Health and retirement"],
] as const;
const KINDS: Record<Rule["kind"], Kind> = {
  c_rate: "c_rate",
  cell_voltage: "voltage",
  percent: "percent",
  hours: "hours",
  days: "days",
  minutes: "minutes",
  times: "times",
  temperature: "temperature",
};

type Props = { set: RuleSet; rules: Rule[]; fixed: Rules["fixed"]; house: string };

/** Every rule of one set: its value, why it exists, who does otherwise. */
export function SetPart({ set, rules, fixed, house }: Props) {
  const store = useSet(set);
  const { draft, problems } = store;
  const differs = rules.filter((r) => draft.values[r.id] !== set.starting[r.id]);
  const loose =
    problems.get("") ??
    problems.get("set") ??
    (problems.size > 0 ? "Not kept while something below is out of its limits." : undefined);
  return (
    <section aria-label={`Rules of ${set.name}`} className="min-w-0">
      <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1">
        <h2 className="text-title font-semibold">{set.name}</h2>
        <Acts set={set} house={house} />
        {differs.length > 0 && (
          <button
            type="button"
            className="action text-plain"
            onClick={() => store.change("set back", { values: set.starting })}
          >
            Set back all {differs.length} as in {set.base_name}
          </button>
        )}
        <UndoButton className="text-plain" />
      </div>
      <SaveLine of={store.saving} asking />
      {loose && (
        <p role="alert" className="text-alert">
          {loose}
        </p>
      )}
      {set.own ? (
        <div className="mt-2 grid max-w-xl gap-x-8 sm:grid-cols-2">
          <TextField
            label="Name"
            value={draft.name}
            problem={problems.get("name")}
            onChange={(name) => store.change("name", { name })}
          />
          <TextField
            label="Why we do it so"
            value={draft.note}
            problem={problems.get("note")}
            onChange={(note) => store.change("why", { note })}
          />
        </div>
      ) : (
        <p className="mt-1 max-w-prose text-ink-soft">
          {set.why} <span className="text-ink-faint">{set.who_differs}</span>
        </p>
      )}
      {GROUPS.map(([group, title]) => (
        <div key={group} className="mt-5">
          <h3 className="heading border-b pb-1">{title}</h3>
          <ul className="divide-y divide-hollow">
            {rules
              .filter((r) => r.group === group)
              .map((r) => (
                <RuleRow
                  key={r.id}
                  rule={r}
                  value={draft.values[r.id] ?? 0}
                  starting={set.starting[r.id] ?? 0}
                  baseName={set.base_name}
                  problem={problems.get(`values.${r.id}`)}
                  onChange={(v) => store.change(r.name, { values: { ...draft.values, [r.id]: v } })}
                />
              ))}
          </ul>
        </div>
      ))}
      <div className="mt-6 border-t pt-3">
        <h3 className="font-semibold">What no set changes</h3>
        <ul className="mt-1 space-y-1.5 text-plain">
          {fixed.map((f) => (
            <li key={f.name}>
              <span className="font-medium">{f.name}</span>{" "}
              <span className="mr-1 text-ink-soft">{f.why}</span>
              <span className="text-ink-faint">{f.who_differs}</span>
            </li>
          ))}
        </ul>
      </div>
    </section>
  );
}

type RowProps = {
  rule: Rule;
  value: number;
  starting: number;
  baseName: string;
  problem: string | undefined;
  onChange: (value: number) => void;
};

function RuleRow({ rule, value, starting, baseName, problem, onChange }: RowProps) {
  const p = usePreferences();
  const kind = KINDS[rule.kind];
  const differs = value !== starting;
  return (
    <li className="grid gap-x-6 py-2 md:grid-cols-[15.625rem_minmax(0,1fr)]">
      <div>
        <NumberField
          label={rule.name}
          kind={kind}
          value={value}
          step={rule.step}
          problem={problem}
          onChange={(v) => v !== null && onChange(v)}
        />
        {differs && (
          <p className="text-right text-small">
            <button type="button" className="action" onClick={() => onChange(starting)}>
              {baseName}: {typed(kind, starting, p)} {unitOf(kind, p)}
            </button>
          </p>
        )}
      </div>
      <p className="text-small leading-4.25 text-ink-soft">
        {rule.why} <span className="text-ink-faint">{rule.who_differs}</span>{" "}
        <span className="text-ink-faint">Follows: {rule.follows}.</span>
      </p>
    </li>
  );
}

function Acts({ set, house }: { set: RuleSet; house: string }) {
  const navigate = useNavigate({ from: "/rules" });
  const perform = useAct();
  const act = async (work: () => Promise<unknown>, done: () => void) => {
    if (await perform({ act: work, touches: ["rules"], fails: "It could not be done." })) done();
  };
  const restore = () =>
    act(
      () => bringBack(set.id),
      () => void navigate({ search: { set: set.id } }),
    );
  return (
    <>
      {set.id === house ? (
        <span className="text-plain text-ink-faint">the shelf is kept by it</span>
      ) : (
        <button
          type="button"
          className="action text-plain"
          onClick={() =>
            void act(
              () => goBy(set.id),
              () =>
                notify(`The shelf is kept by ${set.name} now.`, {
                  act: {
                    name: "Undo",
                    run: () =>
                      void act(
                        () => goBy(house),
                        () => undefined,
                      ),
                  },
                }),
            )
          }
        >
          Keep the shelf by it
        </button>
      )}
      {set.own && (
        <button
          type="button"
          className="action text-plain"
          onClick={() =>
            void act(
              () => removeSet(set.id),
              () => {
                void navigate({ search: {} });
                notify(`Deleted ${set.name}`, { act: { name: "Undo", run: () => void restore() } });
              },
            )
          }
        >
          Delete it
        </button>
      )}
    </>
  );
}
