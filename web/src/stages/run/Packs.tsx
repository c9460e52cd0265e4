import { Link } from "@tanstack/react-router";
import { useState } from "react";
import type { FitVerdict, RunPack } from "@/api/types";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { OwnNow } from "@/gear/OwnNow";
import { FIT_WORDS, FitMark } from "@/parts/FitMark";
import { finder } from "@/parts/finder";
import { PackState } from "@/parts/PackState";
import { SearchField } from "@/parts/SearchField";
import { useRows } from "@/parts/useRows";
import { LentPart } from "@/stages/run/LentPart";

type Props = {
  model: string;
  packs: RunPack[] | undefined;
  picked: string | undefined;
  onPick: (tag: string) => void;
  /** Whether the model runs on two packs together. */
  onTwo: boolean;
};

/** More packs than one looks through without a search. */
const SEARCHED = 30;
const ROW_PX = 52;
const ORDER: FitVerdict[] = ["does", "care", "unknown", "wont"];

/** Which pack: each with its verdict in this model, what does the job first and the readiest of it. */
export function Packs({ model, packs, picked, onPick, onTwo }: Props) {
  if (!packs)
    return (
      <p className="text-ink-soft">Which packs there are could not be asked. One can be named by its tag.</p>
    );
  if (packs.length === 0)
    return (
      <OwnNow
        model={model}
        shows="There is no pack to run. With one, here stand go or no go, the timer to set, what to use at
          most and when to land; then its run is logged."
      />
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
          {packs.length > 1 && (
            <button type="button" className="action mt-1 text-plain" onClick={() => onPick(here.tag)}>
              Another pack
            </button>
          )}
        </>
      ) : (
        <>
          {onTwo && packs.every((p) => p.pair.length === 0) && (
            <p className="mt-1 border-l-4 border-ink pl-2 text-plain">
              It runs on two packs together, and there are no two alike here. Go or no go judges one by
              itself.
            </p>
          )}
          <ByVerdict packs={packs} onPick={onPick} />
          <LentPart onTaken={onPick} />
        </>
      )}
    </section>
  );
}

function ByVerdict({ packs, onPick }: Pick<Props, "onPick"> & { packs: RunPack[] }) {
  const [find, setFind] = useState("");
  const [opened, setOpened] = useState(false);
  const fits = finder(find);
  const found = packs.filter((p) => fits(`${p.tag} ${p.name}`));
  const runnable = found.filter((p) => p.fit !== "wont");
  const others = found.filter((p) => p.fit === "wont");
  const open = opened || runnable.length === 0;
  return (
    <>
      {packs.length > SEARCHED && (
        <SearchField label="Search packs" className="mt-1 w-full max-w-64" value={find} onChange={setFind} />
      )}
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
        <details className="mt-3" open={open} onToggle={(e) => setOpened(e.currentTarget.open)}>
          <summary className="text-plain text-ink-soft">{others.length} that will not do</summary>
          {open && <List packs={others} picked={undefined} onPick={onPick} />}
        </details>
      )}
    </>
  );
}

function List({ packs, picked, onPick }: Pick<Props, "picked" | "onPick"> & { packs: RunPack[] }) {
  const p = usePreferences();
  const list = useRows<HTMLUListElement>(packs.length, ROW_PX);
  const many = list.measure !== undefined;
  return (
    <ul
      ref={list.box}
      style={{ paddingTop: list.before, paddingBottom: list.after }}
      onKeyDown={list.onKeyDown}
      onFocus={list.onFocus}
      className={`mt-1 grid grid-cols-[minmax(0,1fr)]
        ${packs.length > 1 && !many ? "sm:grid-cols-2 sm:gap-x-1.5 lg:grid-cols-1" : ""}`}
    >
      {packs
        .filter((_, i) => list.shown.includes(i))
        .map((pack, k) => (
          <li key={pack.tag} ref={list.measure} data-index={list.shown[k]} className="pb-1.5">
            <button
              type="button"
              tabIndex={list.tab(list.shown[k] ?? 0)}
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
                  <span className="block text-fine leading-3.5 text-ink-soft">
                    {[pack.why, pack.waits].filter(Boolean).join(" ")}
                  </span>
                )}
              </span>
              <span className="grid min-w-0 justify-items-end gap-0.5 text-small text-ink-soft">
                <PackState now={pack} />
                {pack.minutes !== null && (
                  <span className="number">{worded("minutes", pack.minutes, p)}</span>
                )}
              </span>
            </button>
          </li>
        ))}
    </ul>
  );
}
