import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { wordsOf } from "@/api/problem";
import type { Offer, OfferLine } from "@/api/types";
import { touched } from "@/app/act";
import { notify } from "@/app/notices";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { readOffers, takeOffers, tellChange } from "@/gear/queries";
import { Sheet } from "@/parts/Sheet";
import { TextField } from "@/parts/TextField";

const READ_AFTER_MS = 350;
const EXAMPLE = [
  "Brackwater 4S 2200mAh 45C XT60 189 g 24.90 €",
  "Hollin 3S 2200 35C – 19.95 €",
  "Fellside 5S 3900mAh 40C charge 3C XT90 520 g €61.50",
].join("\n");

/** What was pasted and not yet taken stays, even if the sheet is closed. */
let pasted = { text: "", shop: "" };

/** Offers of a shop, a line a pack: pasted, taken apart before one's eyes, and put beside what one owns. */
export function OffersSheet({ onClose }: { onClose: () => void }) {
  const queries = useQueryClient();
  const [typed, setTyped] = useState(pasted);
  const [lines, setLines] = useState<OfferLine[]>([]);
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set());
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);
  const keep = (part: Partial<typeof pasted>) => {
    pasted = { ...typed, ...part };
    setTyped(pasted);
  };
  useEffect(() => {
    if (!typed.text.trim()) {
      setLines([]);
      return;
    }
    let stale = false;
    const timer = window.setTimeout(async () => {
      try {
        const read = await readOffers(typed.text);
        if (stale) return;
        setLines(read);
        setProblem(undefined);
      } catch (failed) {
        if (!stale) setProblem(wordsOf(failed, "It could not be read."));
      }
    }, READ_AFTER_MS);
    return () => {
      stale = true;
      window.clearTimeout(timer);
    };
  }, [typed.text]);
  const chosen = lines.filter((x) => x.pack && !left.has(x.line));
  const take = async () => {
    setBusy(true);
    try {
      const packs = chosen.map((x) => ({ ...(x.pack as Offer), shop: typed.shop.trim() }));
      const { added, change } = await takeOffers(packs);
      pasted = { text: "", shop: "" };
      if (change) tellChange(queries, change);
      else notify("All of these stand there already.");
      if (added > 0) touched(queries, "gear");
      onClose();
    } catch (failed) {
      setProblem(wordsOf(failed, "They could not be taken."));
    } finally {
      setBusy(false);
    }
  };
  return (
    <Sheet
      open
      onClose={() => {
        if (pasted.text.trim()) notify("What you pasted is kept: it is there when you open this again.");
        onClose();
      }}
      title="What a shop offers"
      wide
    >
      <div className="px-5 py-4">
        <label htmlFor="offers" className="label block text-plain">
          A line a pack, as the shop prints it: label, mass and price where they are given
        </label>
        <textarea
          id="offers"
          rows={7}
          className="number mt-1 w-full border border-rule-strong bg-transparent p-2 text-plain
            leading-4.75 outline-none placeholder:text-ink-faint focus:border-fjord"
          placeholder={EXAMPLE}
          spellCheck={false}
          value={typed.text}
          aria-invalid={problem ? true : undefined}
          onChange={(e) => keep({ text: e.target.value })}
        />
        <TextField
          label="Shop, if you like"
          short
          value={typed.shop}
          onChange={(shop) => keep({ shop: shop.slice(0, 60) })}
        />
        {problem && (
          <p role="alert" className="mt-2 text-plain text-alert">
            {problem}
          </p>
        )}
        <div aria-live="polite">
          {lines.length > 0 && <Understood lines={lines} left={left} onLeave={setLeft} />}
        </div>
      </div>
      <div className="sticky bottom-0 flex flex-wrap items-center gap-3 border-t bg-sheet px-5 py-3">
        <button
          type="button"
          className="primary"
          disabled={busy || chosen.length === 0}
          onClick={() => void take()}
        >
          {busy ? "Taking them…" : `Take ${chosen.length === 1 ? "1 offer" : `${chosen.length} offers`}`}
        </button>
        <p className="text-plain text-ink-soft">
          They stand in Size beside what you own, until you buy them or throw them out.
        </p>
      </div>
    </Sheet>
  );
}

type UnderstoodProps = {
  lines: OfferLine[];
  left: ReadonlySet<number>;
  onLeave: (left: ReadonlySet<number>) => void;
};

function Understood({ lines, left, onLeave }: UnderstoodProps) {
  const toggle = (line: number) => {
    const next = new Set(left);
    if (!next.delete(line)) next.add(line);
    onLeave(next);
  };
  return (
    <section aria-label="What was understood" className="mt-4">
      <h3 className="heading mb-1">What was understood</h3>
      <ul className="divide-y divide-hollow border-y">
        {lines.map((x) => (
          <li key={x.line} className="flex gap-3 py-1.5">
            <input
              type="checkbox"
              className="mt-0.5"
              aria-label={`Take line ${x.line}: ${x.pack?.name ?? x.text}`}
              disabled={!x.pack}
              checked={x.pack !== null && !left.has(x.line)}
              onChange={() => toggle(x.line)}
            />
            <div className="min-w-0 flex-1">
              {x.pack ? (
                <Figures pack={x.pack} assumed={x.assumed} />
              ) : (
                <p className="font-medium text-alert">{x.lacking}</p>
              )}
              <p className="number truncate text-fine text-ink-faint" title={x.text}>
                {x.text}
              </p>
              {[...Object.values(x.asked), ...x.told].map((words) => (
                <p key={words} className="text-small text-ink-soft">
                  {words}
                </p>
              ))}
              {x.pack && x.unread && !x.pack.name.includes(x.unread) && (
                <p className="text-small text-ink-faint">Not understood: “{x.unread}”.</p>
              )}
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Figures({ pack, assumed }: { pack: Offer; assumed: readonly string[] }) {
  const p = usePreferences();
  const known: string[] = [
    `${pack.series}S${pack.parallel > 1 ? `${pack.parallel}P` : ""}`,
    worded("capacity", pack.capacity_ah, p),
    ...(pack.label_c !== null ? [`${pack.label_c}C`] : []),
    ...(pack.label_burst_c !== null ? [`burst ${pack.label_burst_c}C`] : []),
    ...(pack.charge_c !== null ? [`charge ${pack.charge_c}C`] : []),
    ...(pack.mass_g !== null && !pack.assumed?.includes("mass_g") ? [worded("mass", pack.mass_g, p)] : []),
    pack.price !== null ? worded("price", pack.price, p) : "no price",
  ];
  return (
    <>
      <p className="font-semibold">{pack.name}</p>
      <p>
        <span className="number text-small">{known.join(" · ")}</span>
        {assumed.length > 0 && (
          <span className="ml-2 border-b border-dashed border-rule-strong text-fine text-ink-faint">
            assumed: {assumed.join(", ")}
          </span>
        )}
      </p>
    </>
  );
}
