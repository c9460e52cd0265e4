import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { wordsOf } from "@/api/problem";
import type { LogChosen, LogFit } from "@/api/types";
import { touched } from "@/app/act";
import { ownedQuery } from "@/app/queries";
import { type Preferences, usePreferences } from "@/format/preferences";
import { bare, worded } from "@/format/quantity";
import { keepLearnt, tellChange } from "@/gear/queries";
import { Figure } from "@/parts/Figure";
import { Pick } from "@/parts/Pick";
import { teachPack } from "@/stages/size/log/queries";

type Props = { file: File; chosen: LogChosen | undefined; airC: number };
type State =
  | { at: "asked" }
  | { at: "reading"; tag: string }
  | { at: "refused"; tag: string; why: string }
  | { at: "taught"; taught: LogFit; kept: boolean };

/** What the log teaches of the pack that was in the model: offered, and taken with undo. */
export function TeachPack({ file, chosen, airC }: Props) {
  const queries = useQueryClient();
  const { data: owned = [] } = useQuery(ownedQuery);
  const [state, setState] = useState<State>({ at: "asked" });
  if (owned.length === 0) return null;
  const ask = async (tag: string) => {
    setState({ at: "reading", tag });
    try {
      setState({ at: "taught", taught: await teachPack(file, tag, airC, chosen), kept: false });
    } catch (problem) {
      setState({ at: "refused", tag, why: wordsOf(problem, "It cannot be read.") });
    }
  };
  const keep = async (taught: LogFit) => {
    try {
      tellChange(queries, await keepLearnt(taught.tag, taught.learnt));
      touched(queries, "gear");
      setState({ at: "taught", taught, kept: true });
    } catch (problem) {
      setState({ at: "refused", tag: taught.tag, why: wordsOf(problem, "It could not be kept.") });
    }
  };
  return (
    <section className="mt-6 border-t pt-3" aria-labelledby="teach-pack">
      <h3 id="teach-pack" className="font-semibold">
        What it tells of the pack
      </h3>
      <p className="mt-0.5 text-small text-ink-faint">
        Its volts show the pack’s resistance, and often what it really holds. Which pack was in the model?
      </p>
      <div className="mt-2">
        <Pick
          label="The pack that was logged"
          placeholder="Tag or name…"
          options={owned.map((x) => ({ id: x.tag, name: `${x.tag} ${x.name}` }))}
          onPick={(tag) => void ask(tag)}
        />
      </div>
      <div aria-live="polite">
        {state.at === "reading" && (
          <p className="mt-2 text-ink-faint">Following pack {state.tag} through it…</p>
        )}
        {state.at === "refused" && (
          <p role="alert" className="mt-2 border-l-4 border-alert pl-3">
            <span className="font-semibold">Pack {state.tag}:</span> {state.why}
          </p>
        )}
        {state.at === "taught" && (
          <Found taught={state.taught} kept={state.kept} onKeep={() => void keep(state.taught)} />
        )}
      </div>
    </section>
  );
}

function Found({ taught, kept, onKeep }: { taught: LogFit; kept: boolean; onKeep: () => void }) {
  const p = usePreferences();
  return (
    <div className="mt-2">
      <p className="font-semibold">
        <span className="number">{taught.tag}</span> {taught.name}
      </p>
      <dl className="mt-1 grid grid-cols-[auto_1fr] gap-x-4 gap-y-0.5 text-plain">
        {rowsOf(taught, p).map(([term, value]) => (
          <div key={term} className="contents">
            <dt className="label">{term}</dt>
            <dd className="number text-small">{value}</dd>
          </div>
        ))}
        <dt className="label">Fits the log</dt>
        <dd className="text-small">
          <Figure working={taught.working} label="What was learnt" className="number">
            within {worded("millivolts", taught.fit_mv)} a cell
          </Figure>
        </dd>
      </dl>
      {taught.untold.map((words) => (
        <p key={words} className="mt-1.5 border-l-4 border-dashed border-rule-strong pl-2 text-small">
          It does not tell {words}.
        </p>
      ))}
      {kept ? (
        <p className="mt-3 font-semibold">Pack {taught.tag} goes by this log now, on every screen.</p>
      ) : (
        <button type="button" className="control mt-3" onClick={onKeep}>
          Go by this for pack {taught.tag}
        </button>
      )}
    </div>
  );
}

function rowsOf({ learnt, typed_mohm, label_ah }: LogFit, p: Preferences): [string, string][] {
  const about = (share: number | null) => `± ${Math.max(1, Math.round((share ?? 0) * 100))} %`;
  const before =
    typed_mohm === null ? "by its label until now" : `${worded("resistance", typed_mohm, p)} until now`;
  const rows: [string, string][] = [
    [
      "A cell resists",
      `${worded("resistance", learnt.cell_mohm, p)} ${about(learnt.resistance_spread)}, ${before}`,
    ],
  ];
  if (learnt.capacity_ah !== null) {
    const held = `${worded("capacity", learnt.capacity_ah, p)} ${about(learnt.capacity_spread)}`;
    rows.push(["It holds", `${held}, ${worded("capacity", label_ah, p)} on its label`]);
  }
  if (learnt.slow_ratio !== null && learnt.slow_s !== null) {
    const size = `${bare("ratio", learnt.slow_ratio)} times that resistance`;
    rows.push([
      "Its slow sag",
      `${size}, over ${worded("whole_seconds", learnt.slow_s)}, ${about(learnt.slow_spread)}`,
    ]);
  }
  return rows;
}
