import type { PackPage } from "@/api/types";
import { useAct } from "@/app/act";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { changeVerb, keepLearnt } from "@/gear/queries";

/** What a watt-meter log taught of the pack, and the way back to its label. */
export function LearntPart({ page }: { page: PackPage }) {
  const act = useAct();
  const p = usePreferences();
  const { learnt } = page;
  if (!learnt) return null;
  const forget = () => act(changeVerb(() => keepLearnt(page.line.tag, null), "It could not be kept."));
  const about = (share: number | null | undefined) => `± ${Math.max(1, Math.round((share ?? 0) * 100))} %`;
  const holds =
    learnt.capacity_ah == null
      ? ""
      : `; holds ${worded("capacity", learnt.capacity_ah, p)} ${about(learnt.capacity_spread)}`;
  return (
    <p className="mt-3 border-l-4 border-rule-strong pl-2 text-plain">
      Sized by its log <em>{learnt.source}</em>: {worded("resistance", learnt.cell_mohm, p)}{" "}
      {about(learnt.resistance_spread)} a cell{holds}.{" "}
      <button type="button" className="action min-h-6" onClick={() => void forget()}>
        Go by its label and readings again
      </button>
    </p>
  );
}
