import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { fieldsOf, isStale } from "@/api/problem";
import type { Place, PlaceAsk } from "@/api/types";
import { merge } from "@/app/merge";
import { ChoiceField } from "@/parts/ChoiceField";
import { NumberField } from "@/parts/NumberField";
import { SaveButton, useReds } from "@/parts/reds";
import { Sheet } from "@/parts/Sheet";
import { TextField } from "@/parts/TextField";
import { keepPlace, placeQuery } from "@/stages/keep/queries";

const CONTAINERS = [
  { id: "", name: "not said", note: "" },
  { id: "vented_box", name: "a metal box that can vent", note: "" },
  { id: "bag", name: "a fire bag", note: "" },
  { id: "sealed", name: "a sealed box", note: "" },
  { id: "loose", name: "nothing, loose", note: "" },
];

/** Where the packs lie, and what to mind there. */
export function PlacePart() {
  const { data } = useQuery(placeQuery);
  const [open, setOpen] = useState(false);
  if (!data) return null;
  return (
    <section aria-label="Where packs lie" className="mb-5 text-plain">
      <p>
        <span className="mr-1 font-medium">
          {data.sentence || "Where do the packs lie, and how warm is it?"}
        </span>
        <button type="button" className="action" onClick={() => setOpen(true)}>
          {data.sentence ? "Change" : "Say where"}
        </button>
      </p>
      <ul className="text-ink-soft">
        {data.cautions.map((c) => (
          <li key={c.id} className={c.id === "place_hot" ? "font-semibold text-alert" : ""}>
            {c.sentence}
          </li>
        ))}
      </ul>
      {open && <PlaceSheet place={data} onClose={() => setOpen(false)} />}
    </section>
  );
}

function asked({ place, now_c, hottest_c, container }: Place): PlaceAsk {
  return { place, now_c, hottest_c, container };
}

function PlaceSheet({ place, onClose }: { place: Place; onClose: () => void }) {
  const queries = useQueryClient();
  const [draft, setDraft] = useState<PlaceAsk>(() => asked(place));
  const [base, setBase] = useState(place);
  const [reds, withReds] = useReds();
  const [problems, setProblems] = useState<ReadonlyMap<string, string>>(new Map());
  const keep = async () => {
    try {
      queries.setQueryData(placeQuery.queryKey, await keepPlace(draft, base.version));
      onClose();
    } catch (problem) {
      if (isStale(problem)) await changedElsewhere();
      else setProblems(fieldsOf(problem, "It could not be kept."));
    }
  };
  /** What was typed stays, over what is kept by now; what both changed is told. */
  const changedElsewhere = async () => {
    const now = await queries.fetchQuery({ ...placeQuery, staleTime: 0 });
    const { value, clashes } = merge(asked(base), draft, asked(now));
    setDraft(value);
    setBase(now);
    const told = clashes.map((c): [string, string] => [
      c.path,
      `Changed elsewhere too, to ${c.theirs ?? "nothing"}.`,
    ]);
    setProblems(
      new Map([...told, ["", "It was changed elsewhere meanwhile. Keep it again if this is right."]]),
    );
  };
  return withReds(
    <Sheet open onClose={onClose} title="Where packs lie">
      <form
        className="grid gap-1 px-5 py-4"
        onSubmit={(e) => {
          e.preventDefault();
          void keep();
        }}
      >
        <TextField
          label="Place"
          value={draft.place}
          problem={problems.get("place")}
          onChange={(v) => setDraft({ ...draft, place: v })}
        />
        <NumberField
          label="How warm it is there now"
          kind="temperature"
          value={draft.now_c}
          step={1}
          optional
          placeholder="?"
          problem={problems.get("now_c")}
          onChange={(v) => setDraft({ ...draft, now_c: v })}
        />
        <NumberField
          label="At its hottest, on a summer’s day"
          kind="temperature"
          value={draft.hottest_c}
          step={1}
          optional
          placeholder="?"
          problem={problems.get("hottest_c")}
          onChange={(v) => setDraft({ ...draft, hottest_c: v })}
        />
        <ChoiceField
          label="They lie in"
          value={draft.container}
          choices={CONTAINERS}
          problem={problems.get("container")}
          onChange={(v) => setDraft({ ...draft, container: v as PlaceAsk["container"] })}
        />
        {problems.get("") && (
          <p role="alert" className="text-alert">
            {problems.get("")}
          </p>
        )}
        <SaveButton reds={reds} look="primary mt-3 justify-self-start">
          Keep it
        </SaveButton>
      </form>
    </Sheet>,
  );
}
