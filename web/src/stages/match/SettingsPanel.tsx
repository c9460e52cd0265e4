import { Link, useParams } from "@tanstack/react-router";
import type { ReactNode } from "react";
import type { MatchCharge, MatchPack } from "@/api/types";
import { ownedTag } from "@/format/packId";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { voltsSet, wholeMinutes } from "@/format/settings";
import { Figure } from "@/parts/Figure";
import { Folded } from "@/parts/Folded";

export type Settings = NonNullable<MatchCharge["settings"]>;
type Props = { charge: MatchCharge; settings: Settings; pack: MatchPack };

/** What to set on the charger for this pack, what limits it, and what to mind. */
export function SettingsPanel({ charge, settings, pack }: Props) {
  const { model } = useParams({ from: "/match/$model" });
  const tag = ownedTag(pack.id);
  const p = usePreferences();
  const w = settings.workings;
  return (
    <section aria-label="Charger settings" className="border-y bg-sheet px-4 py-4 md:px-6">
      <div className="flex flex-wrap items-baseline justify-between gap-3">
        <h2 className="text-lead font-semibold">
          Set on {charge.charger_name} for {pack.name}
        </h2>
        <span className="print-hidden flex flex-wrap gap-2">
          {tag && (
            <Link to="/charge/$model" params={{ model }} search={{ lay: tag }} className="control text-small">
              Lay it out to charge
            </Link>
          )}
          <button type="button" className="control text-small" onClick={() => window.print()}>
            Print build sheet and settings
          </button>
        </span>
      </div>
      <dl className="mt-3 grid grid-cols-2 gap-x-6 gap-y-3 sm:grid-cols-4 xl:grid-cols-8">
        <Entry name="chemistry">{settings.chemistry}</Entry>
        <Entry name="program">
          <span className="text-plain leading-4.25">{settings.program}</span>
        </Entry>
        <Entry name="cells">
          <span className="number">{settings.series}S</span>
        </Entry>
        <Entry name={`amps, ${worded("c_rate", settings.charge_c, p)}`}>
          <Figure working={w.amps} label="Charge current" className="number">
            {worded("amps_set", settings.current_a, p)}
          </Figure>
        </Entry>
        <Entry
          name={settings.end_cell_v === null ? "end" : `end volts, ${voltsSet(settings.end_cell_v)} V a cell`}
        >
          {settings.end_v === null ? (
            <span className="text-plain">at the peak</span>
          ) : (
            <Figure working={w.end_v} label="End volts" className="number">
              {voltsSet(settings.end_v)} V
            </Figure>
          )}
        </Entry>
        <Entry name="safety timer">
          <Figure working={w.timer} label="Safety timer" className="number">
            {settings.timer_min} min
          </Figure>
        </Entry>
        <Entry name="capacity cut-off">
          <Figure working={w.cutoff} label="Capacity cut-off" className="number">
            {settings.cutoff_mah} mAh
          </Figure>
        </Entry>
        <Entry
          name={`takes, ${wholeMinutes(settings.minutes_low)} to ${wholeMinutes(settings.minutes_high)}`}
        >
          <Figure working={w.minutes} label="Charge time" className="number">
            {wholeMinutes(settings.minutes)} min
          </Figure>
        </Entry>
      </dl>
      <div className="mt-4 grid gap-x-10 gap-y-4 lg:grid-cols-2">
        <ul className="space-y-1 text-small text-ink-soft">
          {charge.cautions.map((c) => (
            <li key={c.id} className="border-l-4 border-rule-strong pl-2">
              {c.sentence}
            </li>
          ))}
        </ul>
        <div className="space-y-1">
          <Folded name="What limits the amps">
            <Limits charge={charge} />
          </Folded>
          {charge.ports_table.length > 1 && (
            <Folded name="Amps by supply and ports in use">
              <PortsTable charge={charge} />
            </Folded>
          )}
        </div>
      </div>
    </section>
  );
}

function Entry({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div className="flex flex-col-reverse justify-end">
      <dt className="text-fine text-ink-faint">{name}</dt>
      <dd className="flex min-h-7 items-end text-lead font-semibold leading-6">{children}</dd>
    </div>
  );
}

function Limits({ charge }: { charge: MatchCharge }) {
  const p = usePreferences();
  return (
    <table className="w-full self-start text-plain">
      <caption className="sr-only">What limits the amps</caption>
      <tbody>
        {charge.limits.map((limit, i) => (
          <tr key={limit.id} className={`border-t border-hollow ${i === 0 ? "font-semibold" : ""}`}>
            <th scope="row" className="py-1 pr-3 text-left font-[inherit]">
              {limit.name}
              {i === 0 && <span className="ml-2 border border-ink px-1 text-fine">limits</span>}
            </th>
            <td className="number py-1 pr-3 text-right text-fine text-ink-faint">
              {limit.numbers.includes(" = ") ? limit.numbers.split(" = ")[0] : ""}
            </td>
            <td className="number whitespace-nowrap py-1 text-right text-small">
              {worded("amps_set", limit.current_a, p)}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Amps by what feeds the charger and how many ports share it. */
export function PortsTable({ charge }: { charge: MatchCharge }) {
  const p = usePreferences();
  const rows = charge.ports_table;
  const counts = [...new Set(rows.map((r) => r.ports_in_use))];
  const feeds = [...new Set(rows.map((r) => r.feed_name))];
  if (rows.length < 2) return null;
  return (
    <table className="w-full text-plain">
      <caption className="heading pb-1 text-left">Amps for this pack, by supply and ports in use</caption>
      {counts.length > 1 && (
        <thead className="head">
          <tr>
            <th scope="col" className="text-left">
              Fed
            </th>
            {counts.map((n) => (
              <th key={n} scope="col" className="text-right">
                {n} {n === 1 ? "port" : "ports"}
              </th>
            ))}
          </tr>
        </thead>
      )}
      <tbody>
        {feeds.map((feed) => (
          <tr key={feed} className="border-t border-hollow">
            <th scope="row" className="py-1 text-left font-normal">
              {feed}
            </th>
            {counts.map((n) => {
              const row = rows.find((r) => r.feed_name === feed && r.ports_in_use === n);
              return (
                <td key={n} className="number py-1 text-right text-small" title={row?.binding}>
                  {row ? worded("amps_set", row.current_a, p) : ""}
                  {row && !row.useful && (
                    <span className="block font-(family-name:--font-words) text-fine text-ink-faint">
                      too slow
                    </span>
                  )}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
