import { useMemo } from "react";
import type { Plan } from "@/api/types";
import type { JobStore } from "@/app/useJob";
import { DrawSection } from "@/stages/size/job/DrawSection";
import { LimitsSection } from "@/stages/size/job/LimitsSection";
import { RulesSection } from "@/stages/size/job/RulesSection";
import { WantsSection } from "@/stages/size/job/WantsSection";

type Props = {
  store: JobStore;
  plan: Plan | undefined;
  problems: ReadonlyMap<string, string>;
};

/** The job at the left: what it draws, what I want, what it can take, and the house rules. */
export function JobPanel({ store, plan, problems }: Props) {
  const minds = useMemo(
    () => new Map((plan?.pointed_out ?? []).map((x) => [x.field, x.sentence] as const)),
    [plan],
  );
  return (
    <section aria-label="The job" className="px-4 py-4 md:px-6">
      <SaveLine store={store} />
      <DrawSection store={store} duty={plan?.duty} problems={problems} minds={minds} />
      <WantsSection store={store} chips={plan?.chips} problems={problems} minds={minds} />
      <LimitsSection store={store} problems={problems} window={plan} />
      <RulesSection store={store} problems={problems} />
    </section>
  );
}

function SaveLine({ store }: { store: JobStore }) {
  const { save, undoLabel } = store;
  const words = save.at === "saved" ? "Saved" : save.at === "saving" ? "Saving…" : "Not saved";
  return (
    <div className="mb-3 flex min-h-5 items-baseline justify-between text-xs text-ink-faint">
      <span
        role="status"
        title={save.at === "failed" ? save.why : undefined}
        className={save.at === "failed" ? "text-alert" : ""}
      >
        {words}
        {save.at === "failed" && `: ${save.why}`}
      </span>
      {undoLabel && (
        <button type="button" className="action text-right text-xs" onClick={store.undo}>
          Undo {undoLabel}
        </button>
      )}
    </div>
  );
}
