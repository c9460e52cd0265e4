import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import type { Check, MatchDrive, MatchPack } from "@/api/types";
import { PACK_KINDS } from "@/app/choices";
import { ownedQuery } from "@/app/queries";
import { ownedId } from "@/format/packId";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { Figure } from "@/parts/Figure";
import { Pick } from "@/parts/Pick";
import { Term } from "@/parts/Term";
import type { MatchChoice } from "@/stages/match/useMatchChoice";

type Props = {
  pack: MatchPack;
  drive: MatchDrive;
  subject: string;
  choice: MatchChoice;
  problem: string | undefined;
};

/** The pack, with its plugs towards both sides. */
export function PackMiddle({ pack, drive, subject, choice, problem }: Props) {
  const p = usePreferences();
  const { data: owned = [] } = useQuery(ownedQuery);
  const listed = owned.some((o) => ownedId(o.tag) === pack.id);
  return (
    <section aria-label="The pack">
      <h2 className="heading">Pack</h2>
      <Pick
        label="Pack"
        className="mt-0.5 text-lead font-semibold"
        value={pack.id}
        options={[
          ...(listed ? [] : [{ id: pack.id, name: `${pack.name}, considered` }]),
          ...owned.map((o) => ({
            id: ownedId(o.tag),
            name: `${o.tag} ${o.name}`,
            hint: o.fit ? undefined : "unfit",
          })),
        ]}
        onPick={(id) => choice.set({ pack: id, cells: undefined })}
      />
      {problem && (
        <p role="alert" className="mt-1 text-small text-alert">
          {problem}
        </p>
      )}
      <Drawing pack={pack} />
      <dl
        className="mt-3 text-plain [&>div]:flex [&>div]:justify-between [&>div]:gap-3 [&>div]:py-0.5
        [&_dd]:text-right [&_dt]:text-ink-soft"
      >
        <div>
          <dt>{pack.chemistry_name}</dt>
          <dd>
            {pack.series} {pack.series === 1 ? "cell" : "cells"}{" "}
            <Term word="S">
              ({pack.series}S{pack.parallel > 1 ? `${pack.parallel}P` : ""})
            </Term>
          </dd>
        </div>
        <div>
          <dt>Capacity</dt>
          <dd className="number text-small">{worded("charge", pack.capacity_ah * 1000, p)}</dd>
        </div>
        <div>
          <dt>Mass</dt>
          <dd className="number text-small">{worded("mass", pack.mass_g, p)}</dd>
        </div>
        <div>
          <dt>Volts, full</dt>
          <dd className="number text-small">{worded("voltage", pack.full_v, p)}</dd>
        </div>
        <div>
          <dt>Balance plug</dt>
          <dd>
            {pack.balance_name}
            {pack.balance_pins !== null && `, ${pack.balance_pins} pins`}
          </dd>
        </div>
        <div>
          <dt>It is</dt>
          <dd>{PACK_KINDS[pack.kind] ?? pack.kind}</dd>
        </div>
      </dl>
      {pack.note && <p className="mt-2 text-plain italic text-ink-soft">“{pack.note}”</p>}
      {subject && (
        <p className="mt-2 border-l-4 border-rule-strong pl-2 text-small text-ink-soft">{subject}</p>
      )}
      <InTheBay drive={drive} />
      <p className="mt-3 flex flex-wrap gap-x-4 gap-y-1 text-plain">
        <Link to="/gear/$kind" params={{ kind: "packs" }} search={{ edit: "new" }} className="action">
          Add a pack…
        </Link>
        <Link to="/gear/$kind" params={{ kind: "packs" }} className="action">
          My packs
        </Link>
      </p>
    </section>
  );
}

/** Room, balance and wishes: what of it is met, and what is not. */
function InTheBay({ drive }: { drive: MatchDrive }) {
  const p = usePreferences();
  const wrong = drive.checks.filter((c) => c.verdict === "over" || c.verdict === "caution");
  const room = drive.checks.filter((c) => c.id.startsWith("bay."));
  return (
    <div className="mt-4">
      <h3 className="heading">In the bay and in use</h3>
      <ul className="mt-1 space-y-1.5 text-small leading-4">
        {room.some((c) => c.verdict === "unknown") ? (
          <li className="font-semibold">
            Size unknown: measure the pack, nobody can say whether it goes in.
          </li>
        ) : (
          room.length > 0 &&
          !wrong.some((c) => c.id.startsWith("bay.")) && <li>It goes in, leads and all.</li>
        )}
        {drive.position_mm !== null && (
          <li>For balance, its middle lies at {worded("length", drive.position_mm, p)}.</li>
        )}
        {wrong.map((c) => (
          <Wrong key={c.id} check={c} />
        ))}
        {room.length === 0 && (
          <li className="text-ink-soft">The bay was not measured, or the pack was not.</li>
        )}
      </ul>
    </div>
  );
}

function Wrong({ check }: { check: Check }) {
  return (
    <li className={`border-l-4 pl-2 ${check.verdict === "over" ? "border-alert" : "border-rule-strong"}`}>
      <Figure working={check.working} label={check.title} className="text-left">
        {check.sentence}
      </Figure>
    </li>
  );
}

const MOST_DRAWN = 14;

/**
 * A pouch pack seen from the side: a plate a cell, the balance wires to the left, the main plug to the
 * right.
 */
function Drawing({ pack }: { pack: MatchPack }) {
  const cells = Math.min(pack.series, MOST_DRAWN);
  const gap = cells > 8 ? 9 : 13;
  const height = cells * gap + 12;
  return (
    <svg viewBox={`0 0 204 ${height + 16}`} className="mx-auto mt-4 block w-full max-w-60" aria-hidden="true">
      {Array.from({ length: cells }, (_, i) => `plate-${i}`).map((key, i) => (
        <rect
          key={key}
          x="52"
          y={6 + i * gap}
          width="100"
          height={gap - 3}
          fill="var(--hollow)"
          stroke="var(--rule-strong)"
          strokeWidth="0.75"
        />
      ))}
      {pack.balance_pins !== null &&
        Array.from({ length: cells + 1 }, (_, i) => `wire-${i}`).map((key, i) => (
          <path
            key={key}
            d={`M52 ${5 + i * gap} H38 L24 ${height / 2 - (cells * 3) / 2 + i * 3}`}
            fill="none"
            stroke="var(--ink-faint)"
            strokeWidth="0.75"
          />
        ))}
      {pack.balance_pins !== null && (
        <rect
          x="14"
          y={height / 2 - (cells * 3) / 2 - 3}
          width="10"
          height={cells * 3 + 6}
          fill="none"
          stroke="var(--ink)"
        />
      )}
      <path
        d={`M152 ${height / 2 - 3} H180 M152 ${height / 2 + 3} H180`}
        stroke="var(--ink)"
        strokeWidth="2"
      />
      <rect x="180" y={height / 2 - 8} width="16" height="16" fill="var(--ink)" />
      <text x="198" y={height / 2 + 22} textAnchor="end">
        {pack.plug_name}
      </text>
    </svg>
  );
}
