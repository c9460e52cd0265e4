import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { ApiProblem } from "@/api/problem";
import type { PlugLook, WhichPlugAsk } from "@/api/types";
import { choicesQuery } from "@/app/queries";
import { faceWords, PlugFace } from "@/drawings/PlugFace";
import { plugLooksQuery, whichPlugQuery } from "@/drawings/queries";
import { usePreferences } from "@/format/preferences";
import { Failed } from "@/parts/Failed";
import { NumberField } from "@/parts/NumberField";
import { OneOf } from "@/parts/OneOf";
import { StageWaiting } from "@/parts/StageWaiting";
import { useTitle } from "@/parts/useTitle";

const NOTHING: WhichPlugAsk = {
  shape: null,
  single: null,
  contact_mm: null,
  apart_mm: null,
  width_mm: null,
  height_mm: null,
  mates_with: null,
};
const ANY = { id: "any", name: "cannot say" } as const;
const SHELLS = [
  ANY,
  { id: "both", name: "both poles in one shell" },
  { id: "each", name: "a plug for each pole" },
] as const;
const SOURCES = { drawing: "by a drawing", typical: "typical", own: "as you measured it" };
const FEW = 8;

/** By its looks, by a rule, by what it must go into: which plug one has in hand. */
export function PlugsScreen() {
  useTitle("Which plug is this?");
  const [seen, setSeen] = useState(NOTHING);
  const { data: choices } = useQuery(choicesQuery);
  const looks = useQuery(plugLooksQuery);
  const which = useQuery(whichPlugQuery(seen));
  if (looks.error)
    return <Failed error={looks.error} onRetry={() => void looks.refetch()} className="px-6 py-10" />;
  if (!looks.data) return <StageWaiting heading="Which plug is this?" words="Fetching the plugs…" />;
  const problems = which.error instanceof ApiProblem ? which.error.fields : new Map<string, string>();
  const byId = new Map(looks.data.map((p) => [p.id, p]));
  const say = (part: Partial<WhichPlugAsk>) => setSeen({ ...seen, ...part });
  return (
    <main className="mx-auto w-full max-w-6xl flex-1 px-4 py-5 md:px-6">
      <h1 className="text-title font-semibold tracking-tight">Which plug is this?</h1>
      <p className="mt-0.5 max-w-prose text-ink-faint">
        Look at the plug on the pack from the front, lay a rule on it. Packs carry the half whose contacts lie
        covered.
      </p>
      <div className="mt-4 grid grid-cols-1 gap-x-12 gap-y-6 md:grid-cols-[22rem_minmax(0,1fr)]">
        <section aria-label="What you see" className="space-y-4">
          <Question words="Its contacts">
            <OneOf
              label="Its contacts"
              value={seen.shape ?? "any"}
              choices={[ANY, ...(choices?.contact_shapes ?? [])]}
              onChange={(id) => say({ shape: id === "any" ? null : (id as WhichPlugAsk["shape"]) })}
            />
          </Question>
          <Question words="Its shell">
            <OneOf
              label="Its shell"
              value={seen.single === null ? "any" : seen.single ? "each" : "both"}
              choices={SHELLS}
              onChange={(id) => say({ single: id === "any" ? null : id === "each" })}
            />
          </Question>
          <div>
            <Measure
              label="Width of a contact"
              field="contact_mm"
              seen={seen}
              say={say}
              problems={problems}
            />
            <Measure
              label="Between their middles"
              field="apart_mm"
              seen={seen}
              say={say}
              problems={problems}
            />
            <Measure label="Width of the shell" field="width_mm" seen={seen} say={say} problems={problems} />
            <Measure
              label="Height of the shell"
              field="height_mm"
              seen={seen}
              say={say}
              problems={problems}
            />
          </div>
          <label className="block">
            <span className="heading block">It must go into</span>
            <select
              className="field mt-0.5 w-full"
              value={seen.mates_with ?? ""}
              onChange={(e) => say({ mates_with: e.target.value || null })}
            >
              <option value="">cannot say</option>
              {looks.data.map((p) => (
                <option key={p.id} value={p.id}>
                  {p.name}
                </option>
              ))}
            </select>
          </label>
          {seen !== NOTHING && (
            <button type="button" className="action min-h-6" onClick={() => setSeen(NOTHING)}>
              Begin again
            </button>
          )}
        </section>
        <section aria-label="What it may be" aria-busy={which.isFetching}>
          <p role="status" className="text-lead font-semibold leading-5">
            {which.data?.sentence ?? "Looking…"}
          </p>
          {seen !== NOTHING && (
            <ul className="mt-3 divide-y border-t">
              {which.data?.likely.slice(0, FEW).map((x) => (
                <Candidate key={x.id} plug={byId.get(x.id)} sentence={x.sentence} />
              ))}
            </ul>
          )}
        </section>
      </div>
      <LookAlikes plugs={looks.data} />
      <All plugs={looks.data} />
    </main>
  );
}

function Question({ words, children }: { words: string; children: React.ReactNode }) {
  return (
    <div>
      <p className="heading mb-1" aria-hidden="true">
        {words}
      </p>
      {children}
    </div>
  );
}

type MeasureProps = {
  label: string;
  field: "contact_mm" | "apart_mm" | "width_mm" | "height_mm";
  seen: WhichPlugAsk;
  say: (part: Partial<WhichPlugAsk>) => void;
  problems: ReadonlyMap<string, string>;
};

function Measure({ label, field, seen, say, problems }: MeasureProps) {
  return (
    <NumberField
      label={label}
      kind="fine_length"
      value={seen[field]}
      step={0.1}
      optional
      placeholder="—"
      problem={problems.get(field)}
      onChange={(value) => say({ [field]: value })}
    />
  );
}

function Candidate({ plug, sentence }: { plug: PlugLook | undefined; sentence: string }) {
  if (!plug) return null;
  return (
    <li className="grid grid-cols-[9rem_minmax(0,1fr)] items-center gap-4 py-2.5">
      <div>{plug.face && <PlugFace face={plug.face} name={plug.name} scale={1} />}</div>
      <div className="text-small leading-4.5">
        <p className="text-plain font-semibold">{plug.name}</p>
        <p className="text-ink-soft">{sentence}</p>
        {plug.polarity && <p className="text-ink-soft">{plug.polarity}</p>}
      </div>
    </li>
  );
}

/** Neighbours that are bought for each other, side by side in true size. */
function LookAlikes({ plugs }: { plugs: PlugLook[] }) {
  const byId = new Map(plugs.map((p) => [p.id, p]));
  const pairs = plugs.flatMap((p) =>
    p.alike
      .filter((x) => p.id < x.id && p.face && byId.get(x.id)?.face)
      .map((x) => [p, byId.get(x.id), x.telling] as const),
  );
  return (
    <section aria-label="Taken for each other" className="mt-8 border-t pt-4">
      <h2 className="text-lead font-semibold">Taken for each other</h2>
      <p className="text-small text-ink-faint">
        In true size on paper. Forced together they make poor contact and burn.
      </p>
      <ul className="mt-3 grid grid-cols-[repeat(auto-fill,minmax(17rem,1fr))] gap-x-8 gap-y-4">
        {pairs.map(([a, b, telling]) => (
          <li key={`${a.id} ${b?.id}`} className="border-t pt-2">
            <div className="flex min-h-14 flex-wrap items-center gap-5">
              {[a, b].map(
                (p) =>
                  p?.face && (
                    <figure key={p.id}>
                      <PlugFace face={p.face} name={p.name} scale={1} />
                      <figcaption className="mt-1 text-small font-semibold">{p.name}</figcaption>
                    </figure>
                  ),
              )}
            </div>
            <p className="mt-1 text-small leading-4.5 text-ink-soft">
              {telling || "No rule tells them apart."}
            </p>
          </li>
        ))}
      </ul>
    </section>
  );
}

function All({ plugs }: { plugs: PlugLook[] }) {
  const preferences = usePreferences();
  return (
    <section aria-label="All plugs" className="mt-8 border-t pt-4">
      <h2 className="text-lead font-semibold">All plugs</h2>
      <p className="max-w-prose text-small text-ink-faint">
        Twice their size, the pack’s half from the front. Measures are typical where no drawing stands behind
        them; the marks on the plug go before.
      </p>
      <ul className="mt-3 grid grid-cols-[repeat(auto-fill,minmax(15rem,1fr))] gap-x-8 gap-y-4">
        {plugs.map((p) => (
          <li key={p.id} className="border-t pt-2 text-small leading-4.5">
            <p className="text-plain font-semibold">{p.name}</p>
            <div className="flex min-h-16 items-center py-1">
              {p.face ? (
                <PlugFace face={p.face} name={p.name} scale={2} />
              ) : (
                <p className="text-ink-faint">Nobody gave its measures.</p>
              )}
            </div>
            {p.face && (
              <p className="text-ink-soft">
                {capital(faceWords(p.face, preferences))}; {SOURCES[p.face.source ?? "typical"]}.
              </p>
            )}
            {p.polarity && <p className="text-ink-soft">{p.polarity}</p>}
            {p.halves_alike && <p className="text-ink-soft">Both halves are alike.</p>}
            {p.mates.length > 0 && <p className="text-ink-soft">Also goes into {p.mates.join(", ")}.</p>}
          </li>
        ))}
      </ul>
      <p className="mt-4 text-plain">
        <Link to="/gear/$kind" params={{ kind: "plugs" }} search={{ edit: "new" }} className="action">
          Add a family of your own…
        </Link>
      </p>
    </section>
  );
}

const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);
