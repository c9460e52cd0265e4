import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import type { OwnedNow } from "@/api/types";
import { useAct } from "@/app/act";
import { HaveFields } from "@/gear/HaveFields";
import { undoVerb } from "@/gear/queries";
import { NONE_HERE, ownNow, runsOnQuery } from "@/gear/runsOn";

type Props = {
  model: string;
  /** What the page would show with a pack. */
  shows: string;
};

/** A page without a pack to show: what it would show, and the pack that the model runs on, to be put in. */
export function OwnNow({ model, shows }: Props) {
  const { data } = useQuery(runsOnQuery(model));
  const act = useAct();
  const [have, setHave] = useState({ ...NONE_HERE, count: 1 });
  const [busy, setBusy] = useState(false);
  const put = async () => {
    setBusy(true);
    await act({
      act: () => ownNow(model, have),
      touches: ["gear", "life"],
      fails: "They could not be added.",
      says: (made: OwnedNow) => made.change.label,
      undo: (made: OwnedNow) => undoVerb(made.change),
    });
    setBusy(false);
  };
  return (
    <section
      aria-label="A pack for it"
      className="max-w-prose border-l-4 border-dashed border-rule-strong pl-4"
    >
      <p>{shows}</p>
      {data?.words && (
        <form
          className="mt-3 space-y-2"
          onSubmit={(e) => {
            e.preventDefault();
            void put();
          }}
        >
          <p>
            {data.name} runs on <strong className="font-semibold">{data.words}</strong> now. How many{" "}
            {data.joined ? "such packs, counted singly," : "of them"} are here?
          </p>
          <HaveFields have={have} onChange={setHave} least={1} two={data.joined} />
          <button type="submit" className="primary" disabled={busy}>
            Put {have.count === 1 ? "it" : "them"} in the box
          </button>
        </form>
      )}
      <p className="mt-3 text-plain">
        <Link to="/gear/$kind" params={{ kind: "packs" }} search={{ edit: "new" }} className="action">
          Add {data?.words ? "another pack" : "a pack"} from its label
        </Link>
      </p>
    </section>
  );
}
