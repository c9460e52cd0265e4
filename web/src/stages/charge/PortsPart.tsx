import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { BenchLayout, BenchPlan, Slot, Station } from "@/api/types";
import { useAct } from "@/app/act";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { minutesWords, timeOf } from "@/format/time";
import { chargedVerb } from "@/life/queries";
import { PaceChoice } from "@/stages/charge/PaceChoice";
import { StartSheet } from "@/stages/charge/StartSheet";
import { TimeLine } from "@/stages/charge/TimeLine";
import type { BenchStore } from "@/stages/charge/useBench";

type Props = { plan: BenchPlan; store: BenchStore; asked: BenchLayout };

/**
 * Batches on ports over time, under the watts and watt-hours there are; the order of charging, each with
 * its steps.
 */
export function PortsPart({ plan, store, asked }: Props) {
  const [opened, setOpened] = useState<Slot | undefined>();
  return (
    <section aria-label="Ports over time" className="border-t px-4 py-4 md:px-6 lg:border-t-0">
      <h2 className="heading">Ports over time</h2>
      <PaceChoice plan={plan} store={store} now={asked.at ?? plan.slots[0]?.start_at ?? ""} />
      <TimeLine plan={plan} />
      {plan.slots.length === 0 && (
        <p className="mt-2 text-ink-soft">
          The plan appears here as soon as a pack has been read and found sound.
        </p>
      )}
      <ol className="mt-3 divide-y divide-hollow">
        {plan.slots.map((s) => (
          <SlotLine
            key={s.batch}
            slot={s}
            linked={plan.stations.some((x) => x.charger === s.charger && x.linked)}
            now={asked.at ?? s.start_at}
            onOpen={() => setOpened(s)}
          />
        ))}
      </ol>
      {plan.undone.length > 0 && (
        <div className="mt-3 border-l-4 border-alert pl-3">
          <h3 className="font-semibold">Cannot be done</h3>
          <ul className="mt-0.5 space-y-0.5 text-plain">
            {plan.undone.map((u) => (
              <li key={u.batch}>
                <span className="number font-semibold">{u.tags.join(" + ")}</span>: {u.why}
              </li>
            ))}
          </ul>
        </div>
      )}
      <Stations plan={plan} store={store} />
      <ul className="mt-4 space-y-1.5">
        {plan.cautions.map((c) => (
          <li key={c.id} className="border-l-4 border-rule-strong pl-2 text-small leading-4.25 text-ink-soft">
            {c.sentence}
          </li>
        ))}
      </ul>
      {opened && <StartSheet slot={opened} plan={plan} asked={asked} onClose={() => setOpened(undefined)} />}
    </section>
  );
}

type SlotProps = { slot: Slot; now: string; linked: boolean; onOpen: () => void };

function SlotLine({ slot, now, linked, onOpen }: SlotProps) {
  const act = useAct();
  const queries = useQueryClient();
  const p = usePreferences();
  return (
    <li className="grid grid-cols-[1.6rem_minmax(0,1fr)_auto] items-baseline gap-x-2 py-1.5">
      <span className="number text-plain text-ink-faint">{slot.order}</span>
      <span>
        <span className="number font-semibold">{slot.tags.join(" + ")}</span> on {slot.charger_name}
        {", port "}
        {slot.port}
        <span className="block text-small text-ink-soft">
          {timeOf(slot.start_at, p, now)} to {timeOf(slot.end_at, p, slot.start_at)},{" "}
          {minutesWords(slot.end_min - slot.start_min)} at {worded("amps_set", slot.current_a, p)}.{" "}
          {"Limit: "}
          {slot.binding.replace(/^The /, "the ")}.
          {slot.late_min > 0 && (
            <span className="font-medium text-alert"> Late by {minutesWords(slot.late_min)}.</span>
          )}
        </span>
      </span>
      <span className="print-hidden flex flex-col gap-1.5">
        <button
          type="button"
          className="control text-small"
          aria-label={`Steps for ${slot.tags.join(" + ")}`}
          onClick={onOpen}
        >
          Steps…
        </button>
        {!linked && (
          <button
            type="button"
            className="control text-small"
            aria-label={`It is full: ${slot.tags.join(" + ")}`}
            onClick={() => void act(chargedVerb(queries, slot.tags))}
          >
            It is full
          </button>
        )}
      </span>
    </li>
  );
}

function Stations({ plan, store }: { plan: BenchPlan; store: BenchStore }) {
  // as it was ticked, before the plan has followed
  const stations = plan.stations.map((s) => {
    const wish = store.bench.feds.find((f) => f.charger === s.charger);
    return wish ? { ...s, use: wish.use, source: wish.source ?? s.source, supply: wish.supply } : s;
  });
  const set = (station: Station, next: Partial<BenchLayout["feds"][number]>) => {
    const now = {
      charger: station.charger,
      use: station.use,
      source: station.source as "mains" | "dc",
      supply: station.supply,
    };
    store.change(`Charger ${station.name}`, {
      feds: [...store.bench.feds.filter((f) => f.charger !== station.charger), { ...now, ...next }],
    });
  };
  return (
    <details className="mt-4" open={plan.slots.length === 0}>
      <summary className="heading">
        Chargers in use: {stations.filter((s) => s.use).length} of {stations.length}
      </summary>
      <ul className="mt-1 space-y-1 text-plain">
        {stations.map((s) => (
          <li key={s.charger} className="flex flex-wrap items-center gap-x-3">
            <label className="flex min-h-6 items-center gap-1.5">
              <input type="checkbox" checked={s.use} onChange={() => set(s, { use: !s.use })} />
              {s.name}
            </label>
            <select
              aria-label={`${s.name} is fed by`}
              className="field min-w-0"
              value={s.source === "mains" ? "mains" : s.supply ? `dc:${s.supply}` : "dc"}
              onChange={(e) => {
                const [source, supply] = e.target.value.split(":");
                set(s, { source: source === "mains" ? "mains" : "dc", supply: supply ?? null });
              }}
            >
              {s.inputs.includes("mains") && <option value="mains">the mains</option>}
              {s.inputs.includes("dc") && <option value="dc">strong DC</option>}
              {s.inputs.includes("dc") &&
                plan.supplies.map((x) => (
                  <option key={x.id} value={`dc:${x.id}`}>
                    {x.name}
                  </option>
                ))}
            </select>
            {s.linked && <span className="text-small text-ink-faint">linked</span>}
          </li>
        ))}
      </ul>
    </details>
  );
}
