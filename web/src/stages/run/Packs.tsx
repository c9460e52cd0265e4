import { Link } from "@tanstack/react-router";
import type { FitVerdict, RunPack } from "@/api/types";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { FIT_WORDS, FitMark } from "@/ui/FitMark";
import { PackState } from "@/ui/PackState";

type Props = {
  model: string;
  packs: RunPack[] | undefined;
  picked: string | undefined;
  onPick: (tag: string) => void;
  /** Whether the model runs on two packs together. */
  onTwo: boolean;
};

const ORDER: FitVerdict[] = ["does", "care", "unknown", "wont"];

/** Which pack: each with its verdict in this model, what does the job first and the readiest of it. */
export function Packs({ model, packs, picked, onPick, onTwo }: Props) {
  if (!packs)
    return (
      <p className="text-ink-soft">Which packs there are could not be asked. One can be named by its tag.</p>
    );
  if (packs.length === 0)
    return (
      <p>
        There is no pack to run.{" "}
        <Link to="/gear/$kind" params={{ kind: "packs" }} search={{ edit: "new" }} className="action">
          Add one
        </Link>
      </p>
    );
  const here = packs.find((p) => p.tag === picked);
  return (
    <section aria-label="Which pack">
      <h2 className="heading">{here ? "Pack" : "Which pack?"}</h2>
      {picked && !here && (
        <p className="mt-1 font-semibold">
          {picked} is not run: there is no such pack, or it is to be retired.{" "}
          <Link to="/keep/$model" params={{ model }} search={{ pack: picked }} className="action">
            Its page
          </Link>
        </p>
      )}
      {here ? (
        <>
          <List packs={[here]} picked={picked} onPick={onPick} />
          <button type="button" className="action mt-1 text-plain" onClick={() => onPick(here.tag)}>
            Another pack
          </button>
        </>
      ) : (
        <>
          {onTwo && (
            <p className="mt-1 border-l-4 border-ink pl-2 text-plain">
              It runs on two packs together. Go or no go judges one by itself: read both, charge them alike,
              and go by the timer and alarm that Size sets for the two.
            </p>
          )}
          <ByVerdict packs={packs} onPick={onPick} />
        </>
      )}
    </section>
  );
}

function ByVerdict({ packs, onPick }: Pick<Props, "onPick"> & { packs: RunPack[] }) {
  const runnable = packs.filter((p) => p.fit !== "wont");
  const others = packs.filter((p) => p.fit === "wont");
  return (
    <>
      {ORDER.filter((verdict) => verdict !== "wont").map((verdict) => {
        const these = runnable.filter((p) => p.fit === verdict);
        return these.length === 0 ? null : (
          <div key={verdict} className="mt-2">
            <h3 className="flex items-center gap-2 text-plain font-semibold">
              <FitMark verdict={verdict} />
              <span className="first-letter:uppercase">{FIT_WORDS[verdict]}</span>
            </h3>
            <List packs={these} picked={undefined} onPick={onPick} />
          </div>
        );
      })}
      {runnable.length === 0 && <p className="text-ink-soft">None of the packs does it in this model.</p>}
      {others.length > 0 && (
        <details className="mt-3" open={runnable.length === 0}>
          <summary className="cursor-pointer text-plain text-ink-soft">
            {others.length} that will not do
          </summary>
          <List packs={others} picked={undefined} onPick={onPick} />
        </details>
      )}
    </>
  );
}

function List({ packs, picked, onPick }: Pick<Props, "picked" | "onPick"> & { packs: RunPack[] }) {
  const p = usePreferences();
  return (
    <ul className={`mt-1 grid gap-1.5 ${packs.length > 1 ? "sm:grid-cols-2 lg:grid-cols-1" : ""}`}>
      {packs.map((pack) => (
        <li key={pack.tag}>
          <button
            type="button"
            aria-pressed={pack.tag === picked}
            className={`flex min-h-11 w-full items-center gap-2.5 border bg-sheet px-3 py-1 text-left
              ${pack.tag === picked ? "border-fjord" : "border-rule"}`}
            onClick={() => onPick(pack.tag)}
          >
            <span className="number text-lead font-semibold">{pack.tag}</span>
            <span className="min-w-0 flex-1">
              <span className="block truncate">{pack.name}</span>
              <span className="sr-only">{FIT_WORDS[pack.fit]}: </span>
              {(pack.why || pack.waits) && (
                <span className="block text-fine leading-[14px] text-ink-soft">
                  {[pack.why, pack.waits].filter(Boolean).join(" ")}
                </span>
              )}
            </span>
            <span className="grid justify-items-end gap-0.5 text-small text-ink-soft">
              <PackState now={pack} />
              {pack.minutes !== null && <span className="number">{worded("minutes", pack.minutes, p)}</span>}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
