import { lazy, Suspense, useMemo } from "react";
import type { Plan } from "@/api/types";
import { SaveLine } from "@/app/SaveLine";
import { UndoButton } from "@/app/UndoButton";
import type { JobStore } from "@/app/useJob";
import { DrawSection } from "@/stages/size/job/DrawSection";
import { LimitsSection } from "@/stages/size/job/LimitsSection";
import { RulesSection } from "@/stages/size/job/RulesSection";
import { WantsSection } from "@/stages/size/job/WantsSection";

const EquipmentSection = lazy(() =>
  import("@/stages/size/job/EquipmentSection").then((m) => ({ default: m.EquipmentSection })),
);

type Props = {
  model: string;
  store: JobStore;
  plan: Plan | undefined;
  problems: ReadonlyMap<string, string>;
};

/** The job at the left: what it draws, what I want, what it can take, and the house rules. */
export function JobPanel({ model, store, plan, problems }: Props) {
  const { editing } = store;
  const { equipment } = editing.job;
  // what a plan says anew in the same words is the same
  const pointedOut = plan?.pointed_out;
  const minds = useMemo(
    () => new Map((pointedOut ?? []).map((x) => [x.field, x.sentence] as const)),
    [pointedOut],
  );
  const { max_v, min_v } = plan ?? {};
  const window = useMemo(
    () => (max_v === undefined || min_v === undefined ? undefined : { max_v, min_v }),
    [max_v, min_v],
  );
  return (
    <section aria-label="The job" className="px-4 py-4 md:px-6">
      <div className="mb-3 flex min-h-5 items-baseline justify-between text-small text-ink-faint">
        <SaveLine of={store.saving} />
        <UndoButton className="text-right text-small" />
      </div>
      {equipment ? (
        <Suspense>
          <EquipmentSection store={editing} problems={problems} />
        </Suspense>
      ) : (
        <DrawSection model={model} store={editing} duty={plan?.duty} problems={problems} minds={minds} />
      )}
      <WantsSection store={editing} chips={plan?.chips} problems={problems} minds={minds} />
      {!equipment && <LimitsSection store={editing} problems={problems} window={window} />}
      <RulesSection store={editing} problems={problems} />
    </section>
  );
}
