import { useQuery } from "@tanstack/react-query";
import type { BenchLayout, Curves, Laid } from "@/api/types";
import { CellChart } from "@/charts/CellChart";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { asRead } from "@/format/reading";
import { Failed } from "@/parts/Failed";
import { Figure } from "@/parts/Figure";
import { Sheet } from "@/parts/Sheet";
import { curvesQuery, storageQuery } from "@/stages/charge/queries";

type Props = { laid: Laid; asked: BenchLayout; model: string; onClose: () => void };

/** One pack: how it gets to storage, and what charging does to its cells, plainly and with balancing. */
export function PackSheet({ laid, asked, model, onClose }: Props) {
  return (
    <Sheet open onClose={onClose} title={`${laid.tag} ${laid.name}`} wide>
      <div className="space-y-6 px-5 py-4">
        <Storage laid={laid} asked={asked} model={model} />
        {laid.series > 1 && laid.cell_v.length > 0 && laid.chemistry_name !== "NiMH" && (
          <CellByCell laid={laid} asked={asked} />
        )}
      </div>
    </Sheet>
  );
}

function Storage({ laid, asked, model }: Omit<Props, "onClose">) {
  const { data, error, refetch } = useQuery(storageQuery(asked, laid.pack, model));
  const p = usePreferences();
  return (
    <section aria-label="To storage">
      <h3 className="heading">
        To storage{data?.target_cell_v ? `, ${worded("cell_voltage", data.target_cell_v)} a cell` : ""}
      </h3>
      {error && <Failed error={error} onRetry={() => void refetch()} className="mt-1 text-alert" />}
      {!data && !error && <p className="mt-1 text-ink-faint">Working it out…</p>}
      {data && (
        <dl className="mt-1 grid grid-cols-[auto_1fr] gap-x-5 gap-y-1">
          {data.ways.map((w) => (
            <div key={w.charger} className="contents">
              <dt>{w.charger_name}</dt>
              <dd>
                <Figure working={w.working} label={`To storage on ${w.charger_name}`} className="text-left">
                  {w.time_words && <span className="number font-semibold">{w.time_words} </span>}
                  <span className="text-ink-soft">{w.sentence}</span>
                </Figure>
              </dd>
            </div>
          ))}
        </dl>
      )}
      {data?.ways.length === 0 && <p className="mt-1 text-ink-soft">No charger here takes this pack.</p>}
      {data?.run_down && <p className="mt-2 font-medium">{data.run_down}</p>}
      {asRead(laid) && laid.lowest_soc !== null && (
        <p className="mt-1 text-plain text-ink-faint">
          Now {worded("voltage", laid.pack_v ?? laid.cell_v.reduce((sum, v) => sum + v, 0), p)}, about{" "}
          {Math.round(laid.lowest_soc * 100)} %
          {laid.pack_v === null ? " in its lowest cell" : ", its cells not told apart"}.
        </p>
      )}
    </section>
  );
}

function CellByCell({ laid, asked }: { laid: Laid; asked: BenchLayout }) {
  const { data, error, refetch } = useQuery(curvesQuery(asked, laid.pack));
  return (
    <section aria-label="Cell by cell">
      <h3 className="heading">What charging does to its cells</h3>
      {error && <Failed error={error} onRetry={() => void refetch()} className="mt-1 text-alert" />}
      {!data && !error && <p className="mt-1 text-ink-faint">Simulating…</p>}
      {data && (
        <div className="mt-2 grid gap-5 sm:grid-cols-2">
          <One curves={data} mode="plain" />
          <One curves={data} mode="balance" />
        </div>
      )}
    </section>
  );
}

function One({ curves, mode }: { curves: Curves; mode: "plain" | "balance" }) {
  const c = curves[mode];
  const over = c.over_full.length > 0;
  return (
    <div>
      <h4 className="font-semibold">{mode === "plain" ? "Plain charging" : "Balance charging"}</h4>
      <CellChart
        name={mode === "plain" ? "Plain charging" : "Balance charging"}
        minutes={c.minutes}
        cells={c.cell_v}
        full={curves.full_v}
        height={200}
      />
      <p className={`text-plain ${over ? "font-medium text-alert" : "text-ink-soft"}`}>{c.sentence}</p>
    </div>
  );
}
