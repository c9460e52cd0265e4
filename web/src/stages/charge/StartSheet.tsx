import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Suspense, useState } from "react";
import { ApiProblem } from "@/api/problem";
import type { BenchLayout, BenchPlan, ChargeOrder, Slot } from "@/api/types";
import { touched, useAct } from "@/app/act";
import { notify } from "@/app/notices";
import { newKey } from "@/app/outbox";
import { benchWiringQuery } from "@/drawings/queries";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { minutesWords } from "@/format/time";
import { chargedVerb } from "@/life/queries";
import { lazyPart } from "@/parts/lazyPart";
import { NumberField } from "@/parts/NumberField";
import { SaveButton, useReds } from "@/parts/reds";
import { Sheet } from "@/parts/Sheet";
import { orderQuery, startCharge } from "@/stages/charge/queries";

const BenchDrawn = lazyPart(() => import("@/drawings/BenchDrawn"));

type Props = { slot: Slot; plan: BenchPlan; asked: BenchLayout; onClose: () => void };

/** What to set, the steps to tick in their order, and the start on a linked charger. */
export function StartSheet({ slot, plan, asked: latest, onClose }: Props) {
  // as it was when the sheet was opened: the minutes that pass must not take the ticks away
  const [asked] = useState(latest);
  const packs = plan.batches.find((b) => b.id === slot.batch)?.packs ?? [];
  const [ticked, setTicked] = useState<string[]>([]);
  const { data: order, error } = useQuery(orderQuery(asked, packs, slot.charger, slot.port, slot.current_a));
  return (
    <Sheet
      open
      onClose={onClose}
      title={`${slot.tags.join(" + ")} on ${slot.charger_name}, port ${slot.port}`}
      loses={ticked.length > 0 ? "the steps you ticked" : undefined}
    >
      <div className="px-5 py-4">
        {error && <p className="text-alert">{error.message}</p>}
        {!order && !error && <p className="text-ink-faint">Working it out…</p>}
        {order && (
          <Steps
            order={order}
            slot={slot}
            packs={packs}
            plan={plan}
            asked={asked}
            ticked={ticked}
            onTick={setTicked}
            onClose={onClose}
          />
        )}
      </div>
    </Sheet>
  );
}

type StepsProps = Props & {
  order: ChargeOrder;
  packs: string[];
  ticked: string[];
  onTick: (ticked: string[]) => void;
};

function Steps({ order, slot, packs, plan, asked, ticked, onTick, onClose }: StepsProps) {
  const queries = useQueryClient();
  const [every, setEvery] = useState("10");
  const [problem, setProblem] = useState<string | undefined>();
  // one press is one charge, however often it is sent
  const [key] = useState(newKey);
  const [busy, setBusy] = useState(false);
  const { data: wiring } = useQuery(benchWiringQuery(asked, packs, slot.charger, slot.port, slot.current_a));
  const linked = plan.stations.find((s) => s.charger === slot.charger)?.linked ?? false;
  const left = order.steps.filter((s) => !ticked.includes(s.id));
  const start = async () => {
    setBusy(true);
    setProblem(undefined);
    try {
      await startCharge({
        bench: asked,
        packs,
        charger: slot.charger,
        port: slot.port,
        current_a: slot.current_a,
        look_every_min: Number(every),
        steps: ticked,
        key,
      });
      touched(queries, "bench", "charges");
      notify(`Charging ${slot.tags.join(" + ")} on ${slot.charger_name}. Stay with it.`);
      onClose();
      window.scrollTo({ top: 0 });
    } catch (wrong) {
      setProblem(wrong instanceof ApiProblem ? wrong.message : "It could not be started.");
      setBusy(false);
    }
  };
  return (
    <>
      <OrderFigures order={order} />
      <h3 className="heading mt-4">In this order</h3>
      <ol className="mt-1 space-y-1">
        {order.steps.map((s, i) => {
          const ready = order.steps.slice(0, i).every((x) => ticked.includes(x.id));
          return (
            <li key={s.id}>
              <label className={`flex min-h-7 items-start gap-2 ${ready ? "" : "text-ink-faint"}`}>
                <input
                  type="checkbox"
                  className="mt-1"
                  checked={ticked.includes(s.id)}
                  disabled={!ready}
                  onChange={(e) =>
                    onTick(
                      e.target.checked
                        ? [...ticked, s.id]
                        : ticked.filter((x) => order.steps.findIndex((y) => y.id === x) < i),
                    )
                  }
                />
                <span>
                  {s.sentence}
                  {s.why && <span className="block text-small text-ink-faint">{s.why}</span>}
                </span>
              </label>
              {wiring && (
                <div className="pl-8">
                  <Suspense>
                    <BenchDrawn wiring={wiring} step={s.id} />
                  </Suspense>
                </div>
              )}
            </li>
          );
        })}
      </ol>
      {wiring && (
        <Suspense>
          <BenchDrawn wiring={wiring} step="never" />
        </Suspense>
      )}
      {linked ? (
        <div className="mt-4 border-t pt-3">
          <label className="flex items-baseline gap-2">
            Look at it every
            <select className="field font-medium" value={every} onChange={(e) => setEvery(e.target.value)}>
              {["3", "5", "10", "15", "20"].map((m) => (
                <option key={m} value={m}>
                  {m} min
                </option>
              ))}
            </select>
          </label>
          <p className="mt-1 text-small text-ink-faint">
            Without a look it warns, and three minutes later it stops.
          </p>
          {problem && (
            <p role="alert" className="mt-2 border-l-4 border-alert pl-2 font-medium">
              {problem}
            </p>
          )}
          <button
            type="button"
            className="primary mt-3"
            disabled={left.length > 0 || busy}
            onClick={() => void start()}
          >
            {busy ? "Starting…" : "Start charging"}
          </button>
          {left.length > 0 && (
            <span className="ml-3 text-plain text-ink-faint">
              {left.length} step{left.length === 1 ? "" : "s"} to tick
            </span>
          )}
        </div>
      ) : (
        <ByHand tags={slot.tags} onClose={onClose} />
      )}
      <h3 className="heading mt-5">When it is done, the reverse</h3>
      <ol className="mt-1 list-inside list-decimal text-plain text-ink-soft">
        {order.unplug.map((s) => (
          <li key={s.id}>
            {s.sentence}
            {wiring && (
              <Suspense>
                <BenchDrawn wiring={wiring} step={s.id} />
              </Suspense>
            )}
          </li>
        ))}
      </ol>
    </>
  );
}

/** A charger that is not linked: what it did is told by whoever stood by. */
function ByHand({ tags, onClose }: { tags: string[]; onClose: () => void }) {
  const act = useAct();
  const queries = useQueryClient();
  const [mah, setMah] = useState<number | null>(null);
  const [reds, withReds] = useReds();
  const note = async () => {
    if (await act(chargedVerb(queries, tags, tags.length === 1 ? mah : null))) onClose();
  };
  return withReds(
    <form
      className="mt-4 border-t pt-3"
      onSubmit={(e) => {
        e.preventDefault();
        void note();
      }}
    >
      <p className="text-ink-soft">
        This charger is not linked: set it by hand, start it there, and stay with it. Tell here when it is
        full.
      </p>
      {tags.length === 1 && (
        <div className="mt-1 max-w-xs">
          <NumberField
            label="It put in"
            kind="charge"
            value={mah}
            step={50}
            optional
            placeholder="–"
            onChange={setMah}
          />
        </div>
      )}
      <div className="mt-2">
        <SaveButton reds={reds} look="primary">
          It is full
        </SaveButton>
      </div>
    </form>,
  );
}

function OrderFigures({ order }: { order: ChargeOrder }) {
  const p = usePreferences();
  const figures = [
    [`${order.chemistry} ${order.cells}S`, order.program],
    [worded("amps_set", order.current_a, p), `limit: ${order.binding.replace(/^The /, "the ")}`],
    ...(order.end_v === null ? [] : [[worded("cell_voltage", order.end_v), "ends at"]]),
    [`${order.timer_min} min`, "safety timer"],
    [`${order.cutoff_mah} mAh`, "capacity cut-off"],
    [minutesWords(order.minutes), "expected"],
  ];
  return (
    <dl className="grid grid-cols-2 gap-x-4 gap-y-2 sm:grid-cols-3">
      {figures.map(([value, name]) => (
        <div key={name} className="flex flex-col-reverse">
          <dt className="text-small text-ink-faint">{name}</dt>
          <dd className="number text-lead font-semibold">{value}</dd>
        </div>
      ))}
    </dl>
  );
}
