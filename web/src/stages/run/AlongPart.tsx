import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { along } from "@/app/along";
import { modelsQuery } from "@/app/queries";
import { takeAlong } from "@/app/takeAlong";
import { usePreferences } from "@/format/preferences";
import { momentWords } from "@/format/time";

/** For a day without a line: all of some models, with one press, and how much of it came. */
export function AlongPart({ model }: { model: string }) {
  const queries = useQueryClient();
  const p = usePreferences();
  const had = along.use();
  const { data: models } = useQuery(modelsQuery);
  const [chosen, setChosen] = useState<string[] | undefined>();
  const [busy, setBusy] = useState(false);
  const these = chosen ?? (had && had.models.length > 0 ? had.models : [model]);
  const take = async () => {
    setBusy(true);
    await takeAlong(queries, these);
    setBusy(false);
  };
  const whole = had !== undefined && had.of > 0 && had.came === had.of;
  return (
    <section aria-label="Take along" className="mt-6 border-t pt-3">
      <h2 className="heading">Take along</h2>
      <p className="mt-1 text-plain text-ink-soft">
        For the field without a line: go or no go of each pack, its page, and what to do if one burns.
      </p>
      {models && models.length > 1 && (
        <fieldset className="mt-1 flex flex-wrap gap-x-4 gap-y-1">
          <legend className="sr-only">Of which models</legend>
          {models.map((m) => (
            <label key={m.slug} className="flex min-h-6 items-center gap-1.5">
              <input
                type="checkbox"
                checked={these.includes(m.slug)}
                onChange={(e) =>
                  setChosen(e.target.checked ? [...these, m.slug] : these.filter((s) => s !== m.slug))
                }
              />
              {m.name}
            </label>
          ))}
        </fieldset>
      )}
      <button
        type="button"
        className="control mt-2 min-h-11"
        disabled={busy || these.length === 0}
        onClick={() => void take()}
      >
        {busy ? "Taking along…" : whole ? "Take along again" : "Take along"}
      </button>
      {had && had.of > 0 && (
        <p role="status" className="mt-1 text-plain">
          <span className="number font-semibold">
            {had.came} of {had.of}
          </span>
          {whole && had.until !== null && <>, until {momentWords(new Date(had.until).toISOString(), p)}.</>}
          {!busy && !whole && " came: there was no line for the rest."}
          {whole && !busy && " It stays new by itself while there is a line."}
        </p>
      )}
    </section>
  );
}
