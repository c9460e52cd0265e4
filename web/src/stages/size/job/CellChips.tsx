import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Chip } from "@/api/types";
import { choicesQuery } from "@/app/queries";
import type { JobEditing } from "@/app/useJob";
import { usePreferences } from "@/format/preferences";
import { shown } from "@/format/quantity";
import { Term } from "@/parts/Term";

type Props = {
  store: JobEditing;
  chips: Chip[] | undefined;
  problem: string | undefined;
  mind: string | undefined;
};

/** Cell counts with their full-charge volts; those the electronics refuse are hatched, and say why. */
export function CellChips({ store, chips, problem, mind }: Props) {
  const p = usePreferences();
  const [asked, setAsked] = useState<number | undefined>();
  const { cells } = store.job.wants;
  const toggle = (n: number) =>
    store.change("cells in series", (job) => {
      const has = job.wants.cells.includes(n);
      const next = has
        ? job.wants.cells.filter((c) => c !== n)
        : [...job.wants.cells, n].sort((a, b) => a - b);
      return { ...job, wants: { ...job.wants, cells: next } };
    });
  const { data: choices } = useQuery(choicesQuery);
  const geared = choices?.motions.find((m) => m.id === store.job.motion)?.geared ?? false;
  const about = chips?.find((c) => c.cells === (asked ?? cells.at(-1)));
  return (
    <div className="mt-2">
      <div className="flex items-baseline justify-between gap-2">
        <span className="label whitespace-nowrap">
          <Term word="S">Cells in series (S)</Term>
        </span>
        <select
          aria-label="With other volts"
          className="min-w-0 cursor-pointer bg-transparent text-right text-small text-fjord
            [&>option]:bg-sheet [&>option]:text-ink"
          value={store.job.drive}
          onChange={(e) =>
            store.change("propeller or gearing", (job) => ({
              ...job,
              drive: e.target.value as "same" | "refitted",
            }))
          }
        >
          <option value="same">{geared ? "same gearing" : "same propeller"}</option>
          <option value="refitted">{geared ? "re-geared, same watts" : "re-propped, same watts"}</option>
        </select>
      </div>
      <div
        className="mt-1.5 grid grid-cols-7 gap-1"
        title="Volts when full. All that the electronics accept; choose some to narrow it."
      >
        {(chips ?? []).map((chip) => {
          const on = cells.includes(chip.cells);
          const refused = chip.assumed ? "border-dashed border-rule-strong" : "border-transparent";
          return (
            <button
              key={chip.cells}
              type="button"
              aria-pressed={on}
              aria-disabled={!chip.accepted}
              className={`border py-0.5 text-center text-small leading-3.5
                ${chip.accepted ? (on ? "chosen" : "hover:border-rule-strong") : "hatched text-ink-faint"}
                ${chip.accepted ? "" : refused}`}
              onPointerEnter={() => setAsked(chip.cells)}
              onPointerLeave={() => setAsked(undefined)}
              onFocus={() => setAsked(chip.cells)}
              onBlur={() => setAsked(undefined)}
              onClick={() => (chip.accepted || on ? toggle(chip.cells) : setAsked(chip.cells))}
            >
              {chip.cells}S{" "}
              <span className="number block text-fine font-normal text-ink-faint">
                {shown("voltage", chip.full_v, p).text}
              </span>
              <span className="sr-only">
                {" "}
                V full
                {chip.accepted
                  ? ""
                  : chip.assumed
                    ? ", more than it runs on now"
                    : ", refused by the electronics"}
              </span>
            </button>
          );
        })}
      </div>
      {problem && (
        <p role="alert" className="text-small text-alert">
          {problem}
        </p>
      )}
      {mind && <p className="mt-1 border-l-4 border-ink pl-2 text-fine leading-3.5 text-ink-soft">{mind}</p>}
      <p className="mt-1 min-h-7 text-fine leading-3.5 text-ink-faint" aria-live="polite">
        {about && `${about.reason} ${about.accepted ? about.peak_sentence : ""}`}
      </p>
    </div>
  );
}
