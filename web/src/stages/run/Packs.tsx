import { Link } from "@tanstack/react-router";
import type { RunPack } from "@/api/types";
import { PackState } from "@/ui/PackState";

type Props = {
  model: string;
  packs: RunPack[] | undefined;
  picked: string | undefined;
  onPick: (tag: string) => void;
};

/** Which pack: those that fit the model and are readiest first, the others on demand. */
export function Packs({ model, packs, picked, onPick }: Props) {
  if (!packs)
    return (
      <p className="text-ink-faint" aria-busy="true">
        Looking for packs…
      </p>
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
  const fitting = packs.filter((p) => p.fits);
  const others = packs.filter((p) => !p.fits);
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
          <List packs={fitting} picked={picked} onPick={onPick} />
          {fitting.length === 0 && <p className="text-ink-soft">None of the packs fits this model.</p>}
          {others.length > 0 && (
            <details className="mt-2" open={fitting.length === 0}>
              <summary className="cursor-pointer text-plain text-ink-soft">
                {others.length} that do{others.length === 1 ? "es" : ""} not fit
              </summary>
              <List packs={others} picked={picked} onPick={onPick} />
            </details>
          )}
        </>
      )}
    </section>
  );
}

function List({ packs, picked, onPick }: Pick<Props, "picked" | "onPick"> & { packs: RunPack[] }) {
  return (
    <ul className={`mt-1 grid gap-1.5 ${packs.length > 1 ? "sm:grid-cols-2" : ""}`}>
      {packs.map((p) => (
        <li key={p.tag}>
          <button
            type="button"
            aria-pressed={p.tag === picked}
            className={`flex min-h-11 w-full items-center gap-2.5 border bg-sheet px-3 py-1 text-left ${p.tag === picked ? "border-fjord" : "border-rule"}`}
            onClick={() => onPick(p.tag)}
          >
            <span className="number text-lead font-semibold">{p.tag}</span>
            <span className="min-w-0 flex-1">
              <span className="block truncate">{p.name}</span>
              {p.why && <span className="block truncate text-fine text-ink-faint">{p.why}</span>}
            </span>
            <span className="text-small text-ink-soft">
              <PackState now={p} />
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
