import { useQuery } from "@tanstack/react-query";
import { useAct } from "@/app/act";
import { linkVerb, modelsOnQuery } from "@/gear/runsOn";

/** Models that are told to run on such a pack: is it this one? */
export function IsItNow({ tag }: { tag: string }) {
  const { data = [] } = useQuery(modelsOnQuery(tag));
  const act = useAct();
  return data.map((model) => (
    <p key={model.slug} className="print-hidden mt-1 text-plain text-ink-soft">
      {model.name} is told to run on such a pack.{" "}
      <button type="button" className="action" onClick={() => void act(linkVerb(model, tag))}>
        It is this one
      </button>
    </p>
  ));
}
