import { useQuery } from "@tanstack/react-query";
import type { StandingAlarm } from "@/api/types";
import { CellChart } from "@/charts/CellChart";
import { chargeQuery } from "@/stages/charge/queries";

/** What the charger had measured until the alarm. */
export function AlarmGraph({ alarm, charge }: { alarm: StandingAlarm; charge: number }) {
  const { data, error } = useQuery(chargeQuery(charge, false));
  if (!data) return <p className="text-plain text-ink-faint">{error?.message ?? "Fetching…"}</p>;
  // a sample that is a second late still belongs to it
  const until = data.trace.minutes.filter((m) => m <= alarm.time_s / 60 + 0.02).length;
  if (until === 0) return <p className="text-plain text-ink-faint">Nothing had been measured by then.</p>;
  return (
    <CellChart
      name={`${alarm.label} until the alarm`}
      minutes={data.trace.minutes.slice(0, until)}
      cells={data.trace.cell_v.map((v) => v.slice(0, until))}
      full={data.full_cell_v}
      height={190}
    />
  );
}
