import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import type { Rules } from "@/api/types";
import { useAct } from "@/app/act";
import { useLastModel } from "@/app/useLastModel";
import { StageWaiting } from "@/parts/StageWaiting";
import { useTitle } from "@/parts/useTitle";
import { EffectsPart } from "@/rules/EffectsPart";
import { addSet, rulesQuery } from "@/rules/queries";
import { SetPart } from "@/rules/SetPart";

/** House rules: the sets, every rule of one with its reasons, and what follows it here and now. */
export function RulesScreen() {
  const model = useLastModel();
  const { data, error, refetch } = useQuery(rulesQuery);
  const { set: wanted } = useSearch({ from: "/rules" });
  useTitle("House rules");
  if (!data)
    return (
      <StageWaiting
        heading="House rules"
        words="Fetching the rules…"
        error={error}
        onRetry={() => void refetch()}
      />
    );
  const set = data.sets.find((s) => s.id === (wanted ?? data.house)) ?? data.sets[0];
  return (
    <main className="flex flex-1 flex-col px-4 py-5 md:px-6">
      <h1 className="text-title font-semibold">House rules</h1>
      <p className="mt-1 max-w-prose text-ink-soft">
        Schools differ, and each has its reasons. Set every rule as you practise it; timers, batches, due
        dates and verdicts follow at once.
      </p>
      {set && (
        <div
          className="mt-4 grid grid-cols-1 gap-x-8 gap-y-6 border-t pt-4
          lg:grid-cols-[11rem_minmax(0,1fr)_17.5rem]"
        >
          <Sets rules={data} picked={set.id} />
          <SetPart key={set.id} set={set} rules={data.rules} fixed={data.fixed} house={data.house} />
          <EffectsPart key={`effects-${set.id}-${model}`} set={set} model={model} />
        </div>
      )}
    </main>
  );
}

function Sets({ rules, picked }: { rules: Rules; picked: string }) {
  const act = useAct();
  const navigate = useNavigate({ from: "/rules" });
  const copy = async () => {
    const source = rules.sets.find((s) => s.id === picked);
    const base = (source?.own ? source.name : source?.base_name) ?? "";
    const names = new Set(rules.sets.map((s) => s.name.toLowerCase()));
    let name = `Our ${base}`;
    for (let n = 2; names.has(name.toLowerCase()); n += 1) name = `Our ${base} ${n}`;
    await act({
      act: async () => {
        const made = await addSet(name, picked);
        await navigate({ search: { set: made.id } });
      },
      touches: ["rules"],
      fails: "It could not be made.",
    });
  };
  return (
    <nav aria-label="Sets of rules">
      <ul className="grid grid-cols-2 gap-x-4 gap-y-1 sm:grid-cols-3 lg:grid-cols-1">
        {rules.sets.map((s) => (
          <li key={s.id}>
            <Link
              to="/rules"
              search={{ set: s.id }}
              aria-current={s.id === picked ? "page" : undefined}
              className={`block border-l-4 py-1 pl-2.5
                ${s.id === picked ? "border-fjord" : "border-transparent hover:border-rule-strong"}`}
            >
              <span className={s.id === picked ? "font-bold" : "font-medium"}>{s.name}</span>
              <span className="block text-small text-ink-faint">{usedBy(s.used_by)}</span>
            </Link>
          </li>
        ))}
      </ul>
      <button type="button" className="control mt-3 text-plain" onClick={() => void copy()}>
        A set of our own, from this one
      </button>
    </nav>
  );
}

function usedBy(names: string[]): string {
  if (names.length === 0) return "nobody goes by it";
  return names.length > 4 ? `${names.slice(0, 3).join(", ")} and ${names.length - 3} more` : names.join(", ");
}
