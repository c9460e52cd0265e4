import { useState } from "react";
import type { PackPage } from "@/api/types";
import { useAct } from "@/app/act";
import { changeVerb } from "@/gear/queries";
import { Figure } from "@/parts/Figure";
import { takeOut, tickRetirement } from "@/stages/keep/queries";

/**
 * How to retire a pack: taken out of use, drained, handed in. Ticked steps are kept; with the last it is
 * retired.
 */
export function RetirePart({ page }: { page: PackPage }) {
  const [ticked, setTicked] = useState(page.ticked);
  const [wrong, setWrong] = useState<string | undefined>();
  const { tag, level } = page.line;
  const marked = page.evidence.some((e) => e.id === "unfit");
  const act = useAct();
  const why = page.evidence[0]?.sentence ?? "";
  const out = () => act(changeVerb(() => takeOut(tag, why), "It could not be kept."));
  const tick = async (id: string, on: boolean) => {
    const before = ticked;
    const next = on ? [...ticked, id] : ticked.filter((x) => x !== id);
    setTicked(next);
    setWrong(undefined);
    const done = await act({
      act: () => tickRetirement(tag, next),
      touches: ["life", "gear"],
      fails: "It could not be kept.",
      onFail: setWrong,
    });
    if (!done) setTicked(before);
  };
  return (
    <details className="mt-6 border-t pt-3" open={level === "retire"}>
      <summary className="font-semibold">Retiring it</summary>
      <p className="mt-1">
        <Figure working={page.drain_working} label="Resistor" className="text-left">
          {page.drain}
        </Figure>
      </p>
      {!marked && (
        <p className="mt-2">
          <button type="button" className="control text-plain" onClick={() => void out()}>
            Take {tag} out of use
          </button>
          <span className="ml-3 text-small text-ink-faint">Its history stays.</span>
        </p>
      )}
      {wrong && (
        <p role="alert" className="mt-2 text-alert">
          {wrong}
        </p>
      )}
      <ol className="mt-2 space-y-1">
        {page.retire.map((s) => (
          <li key={s.id}>
            <label className="flex items-start gap-2">
              <input
                type="checkbox"
                className="mt-1"
                checked={ticked.includes(s.id)}
                onChange={(e) => void tick(s.id, e.target.checked)}
              />
              <span>
                {s.sentence}
                {s.why && <span className="block text-small text-ink-faint">{s.why}</span>}
              </span>
            </label>
          </li>
        ))}
      </ol>
    </details>
  );
}
