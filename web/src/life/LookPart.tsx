import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useAct } from "@/app/act";
import { choicesQuery } from "@/app/queries";
import { usePreferences } from "@/format/preferences";
import { timeAlone } from "@/format/time";
import { say, withdraw } from "@/life/queries";

type Sign = { id: string; event: number };
type Props = { tag: string; lookedAt: string | null; signs: Sign[]; disabled?: boolean };

/** Look and feel: an act of somebody, never a default. Sound in one press; what is wrong, by its sign. */
export function LookPart({ tag, lookedAt, signs, disabled = false }: Props) {
  const queries = useQueryClient();
  const p = usePreferences();
  const act = useAct();
  const { data: choices } = useQuery(choicesQuery);
  const [open, setOpen] = useState(false);
  const known = choices?.signs ?? [];
  const standing = signs.map((s) => known.find((k) => k.id === s.id)?.name.toLowerCase() ?? s.id);
  const note = async (found: string[]) => {
    const body = { tag, signs: found, at_room: found.length === 0, temperature_c: null };
    const words = `what was seen of ${tag}`;
    const said = {
      act: () => say(queries, "look", words, body),
      touches: [],
      fails: "It could not be noted.",
    };
    if (await act(said)) setOpen(false);
  };
  // what does not heal stands until it is taken back; the rest is as it was seen last
  const lasts = (id: string) => known.find((k) => k.id === id)?.note === "retire";
  const passing = signs.map((s) => s.id).filter((id) => !lasts(id));
  const toggle = (id: string) => {
    const told = signs.find((s) => s.id === id);
    if (told && lasts(id)) void withdraw(queries, [told.event]);
    else void note(told ? passing.filter((x) => x !== id) : [...passing, id]);
  };
  const looked = lookedAt !== null;
  return (
    <div className={open ? "basis-full" : "flex flex-wrap items-baseline gap-x-3 gap-y-1"}>
      {signs.length === 0 && !looked && (
        <button
          type="button"
          className="control text-small"
          disabled={disabled}
          onClick={() => void note([])}
        >
          Looked and felt: sound, cool<span className="sr-only">: {tag}</span>
        </button>
      )}
      {signs.length > 0 && <span className="font-semibold">{standing.join(", ")}</span>}
      <button type="button" className="action" aria-expanded={open} onClick={() => setOpen(!open)}>
        {signs.length > 0 || looked ? (
          <>
            <span className={signs.length > 0 ? "" : "sr-only"}>Signs</span>
            <span className="sr-only">: {tag}. </span>
            {signs.length === 0 && `Sound, cool ${timeAlone(lookedAt ?? "", p)}`}
          </>
        ) : (
          <>
            Something wrong<span className="sr-only">: {tag}</span>
          </>
        )}{" "}
        <span aria-hidden="true">{open ? "▴" : "▾"}</span>
      </button>
      {open && (
        <fieldset className="mt-1 flex flex-wrap gap-x-4 gap-y-1">
          <legend className="sr-only">Seen and felt of {tag}</legend>
          {known.map((s) => (
            <label key={s.id} className="flex min-h-6 items-center gap-1.5">
              <input
                type="checkbox"
                checked={signs.some((x) => x.id === s.id)}
                onChange={() => toggle(s.id)}
              />
              {s.name}
            </label>
          ))}
        </fieldset>
      )}
    </div>
  );
}
