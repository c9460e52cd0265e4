import { useState } from "react";
import type { Box, BoxProposal } from "@/api/types";
import { useAct } from "@/app/act";
import { bought } from "@/box/queries";
import { axisScale } from "@/charts/scale";
import { useWidth } from "@/charts/useWidth";
import { type Preferences, usePreferences } from "@/format/preferences";
import { wholeMinutes, worded } from "@/format/quantity";
import { changeVerb } from "@/gear/queries";

const PICKED = "bg-sheet shadow-[inset_3px_0_0_var(--fjord)]";

/** What to buy next: a few points of money against minutes a month, each one pressable. */
export function Buying({ box }: { box: Box }) {
  const [at, setAt] = useState(0);
  const proposals = box.proposals;
  const shown = proposals[Math.min(at, proposals.length - 1)];
  return (
    <section aria-label="What to buy next">
      <h2 className="heading">What to buy next</h2>
      {!shown ? (
        <p className="mt-1 text-plain text-ink-soft">
          Nothing on sale here would let more be run. Offers are put in as text, under Catalogue.
        </p>
      ) : (
        <>
          {proposals.every((x) => x.price !== null) && proposals.length > 1 && (
            <Front proposals={proposals} at={at} onPick={setAt} />
          )}
          <ul className="mt-2 divide-y border-y text-plain">
            {proposals.map((x, k) => (
              <li key={x.buys.map((b) => `${b.id} ${b.count}`).join()}>
                <button
                  type="button"
                  aria-pressed={x === shown}
                  className={`block w-full px-2 py-1.5 text-left ${x === shown ? PICKED : "hover:bg-hollow"}`}
                  onClick={() => setAt(k)}
                >
                  <Money proposal={x} />
                </button>
              </li>
            ))}
          </ul>
          <Chosen key={shown.words} proposal={shown} />
        </>
      )}
    </section>
  );
}

function priceOf(x: BoxProposal, p: Preferences): string {
  return x.price === null ? "no price" : worded("price", x.price, p);
}

function Money({ proposal }: { proposal: BoxProposal }) {
  const p = usePreferences();
  return (
    <span className="flex items-baseline justify-between gap-3">
      <span>{proposal.buys.map((b) => (b.count > 1 ? `${b.count} × ${b.name}` : b.name)).join(" and ")}</span>
      <span className="number whitespace-nowrap text-right">
        {priceOf(proposal, p)}
        <span className="block text-small text-ink-faint">+{wholeMinutes(proposal.more_minutes)}</span>
      </span>
    </span>
  );
}

function Chosen({ proposal }: { proposal: BoxProposal }) {
  const act = useAct();
  const [busy, setBusy] = useState(false);
  return (
    <div className="mt-2">
      <p className="text-plain">{proposal.words}.</p>
      <button
        type="button"
        className="control mt-1.5"
        disabled={busy}
        onClick={async () => {
          setBusy(true);
          await act(changeVerb(() => bought(proposal), "It could not be put into the box."));
          setBusy(false);
        }}
      >
        {busy ? "Putting it in…" : "Bought: put it in my box"}
      </button>
    </div>
  );
}

const HEIGHT = 132;
const PAD = { left: 34, right: 12, top: 14, bottom: 26 };

type FrontProps = { proposals: BoxProposal[]; at: number; onPick: (at: number) => void };

/** Minutes a month more against money: the points that no other beats. The list below says the same. */
function Front({ proposals, at, onPick }: FrontProps) {
  const p = usePreferences();
  const [box, width] = useWidth<HTMLDivElement>(340);
  const x = axisScale(
    [0, 1.08 * Math.max(...proposals.map((q) => q.price ?? 0))],
    [PAD.left, width - PAD.right],
  );
  const y = axisScale(
    [0, 1.08 * Math.max(...proposals.map((q) => q.more_minutes))],
    [HEIGHT - PAD.bottom, PAD.top],
    36,
  );
  const points = proposals.map((q) => [x.scale(q.price ?? 0), y.scale(q.more_minutes)] as const);
  return (
    <div ref={box} className="mt-1">
      <svg width={width} height={HEIGHT} role="img" className="block">
        <title>{`Minutes of running a month more against ${p.currency}: ${proposals.length} points.`}</title>
        {y.ticks.map((v) => (
          <g key={v}>
            <line
              x1={PAD.left}
              x2={width - PAD.right}
              y1={y.scale(v)}
              y2={y.scale(v)}
              stroke="var(--hollow)"
            />
            <text className="tick" x={PAD.left - 6} y={y.scale(v) + 3} textAnchor="end">
              {v}
            </text>
          </g>
        ))}
        {x.ticks.map((v) => (
          <text key={v} className="tick" x={x.scale(v)} y={HEIGHT - PAD.bottom + 14} textAnchor="middle">
            {v}
          </text>
        ))}
        <polyline
          points={points.map(([px, py]) => `${px},${py}`).join(" ")}
          fill="none"
          stroke="var(--ink)"
          strokeDasharray="2 2"
        />
        {points.map(([px, py], k) => (
          // biome-ignore lint/a11y/noStaticElementInteractions: the list below has the same as buttons
          <rect
            key={proposals[k]?.words}
            x={px - 6}
            y={py - 4}
            width={12}
            height={8}
            fill={k === at ? "var(--fjord)" : "var(--heat-1)"}
            stroke="var(--ink)"
            strokeWidth={0.6}
            className="cursor-pointer"
            onClick={() => onPick(k)}
          />
        ))}
        <text x={width - PAD.right} y={HEIGHT - 2} textAnchor="end">
          {p.currency}
        </text>
        <text x={2} y={10}>
          min a month more
        </text>
      </svg>
    </div>
  );
}
