import type { BenchPlan, PaceCost } from "@/api/types";
import { usePreferences } from "@/format/preferences";
import { bare, between, worded } from "@/format/quantity";
import { minutesWords, timeOf } from "@/format/time";
import type { BenchStore } from "@/stages/charge/useBench";

const NAMES = { gently: "Gently", soonest: "Soonest" } as const;

type Props = { plan: BenchPlan; store: BenchStore; now: string };

/**
 * Both ways to be ready in time, side by side, with what they cost; only where there is a time to be ready
 * by.
 */
export function PaceChoice({ plan, store, now }: Props) {
  if (plan.slots.length === 0) return null;
  if (plan.costs.length < 2)
    return (
      <p className="print-hidden mt-1 mb-2 text-small text-ink-faint">
        Soonest; gently, if you say when to be ready by.
      </p>
    );
  const gently = plan.costs.find((c) => c.pace === "gently");
  const soonest = plan.costs.find((c) => c.pace === "soonest");
  return (
    <fieldset className="mt-2 mb-3 grid grid-cols-2 gap-2" aria-label="Pace">
      {[gently, soonest].map((c) => c && <PaceCard key={c.pace} cost={c} store={store} now={now} />)}
    </fieldset>
  );
}

function PaceCard({ cost: paced, store, now }: Omit<Props, "plan"> & { cost: PaceCost }) {
  const p = usePreferences();
  const { cost, pace } = paced;
  const used = store.bench.pace === pace;
  const look = used ? "border-fjord bg-sheet" : "border-rule";
  return (
    <label className={`flex cursor-pointer items-start gap-2 border px-2.5 py-1.5 text-small ${look}`}>
      <input
        type="radio"
        name="pace"
        className="mt-0.5"
        checked={used}
        onChange={() => store.change("Pace", { pace })}
      />
      <span>
        <span className="block text-plain font-semibold">{NAMES[pace]}</span>
        {paced.start_at && paced.end_at && (
          <span className="block">
            {timeOf(paced.start_at, p, now)} to {timeOf(paced.end_at, p, paced.start_at)},{" "}
            {minutesWords((cost.end_min ?? 0) - (cost.start_min ?? 0))}
          </span>
        )}
        <span className="block">
          at {between("ratio", cost.low_c ?? 0, cost.high_c ?? 0, " to ")}C, wears{" "}
          {worded("cycles", cost.cycles)}
          {paced.saves_cycles >= 0.05 && (
            <span className="font-medium"> ({bare("cycles", paced.saves_cycles)} fewer)</span>
          )}
        </span>
        {cost.full_early_min !== null && (
          <span className="block text-ink-soft">full {minutesWords(cost.full_early_min)} early</span>
        )}
      </span>
    </label>
  );
}
