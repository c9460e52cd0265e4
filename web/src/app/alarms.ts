import { type QueryClient, queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type { Alarms } from "@/api/types";
import { touched } from "@/app/act";

const SOON_MS = 2000;
const CALM_MS = 10_000;

/** The kind of alarm that a charge is not known to have stopped. */
export const PULL_PLUG = "pull_plug";

/** What is wrong now, anywhere, and what charges: asked on every stage, in hidden tabs too. */
export const alarmsQuery = queryOptions({
  queryKey: ["alarms"],
  meta: { reads: ["charges"] },
  queryFn: ({ signal }): Promise<Alarms> => answered(client.GET("/api/alarms", { signal })),
  refetchInterval: (query) => {
    const { data } = query.state;
    return data && (data.alarms.length > 0 || data.charging.length > 0) ? SOON_MS : CALM_MS;
  },
  refetchIntervalInBackground: true,
  staleTime: 0,
});

export async function confirmAlarm(queries: QueryClient, id: number): Promise<void> {
  const params = { params: { path: { alarm_id: id } } };
  queries.setQueryData(
    alarmsQuery.queryKey,
    await answered(client.POST("/api/alarms/{alarm_id}/confirm", params)),
  );
}

export async function stopStranger(queries: QueryClient, id: number): Promise<void> {
  const params = { params: { path: { alarm_id: id } } };
  queries.setQueryData(
    alarmsQuery.queryKey,
    await answered(client.POST("/api/alarms/{alarm_id}/stop", params)),
  );
}

/** Somebody pulled the charger's plug: the charge is over. */
export async function pulledPlug(charge: number): Promise<void> {
  const params = { params: { path: { charge_id: charge } } };
  await answered(client.POST("/api/charges/{charge_id}/pulled", params));
}

export async function takeOver(queries: QueryClient, id: number, pack: string): Promise<void> {
  await answered(
    client.POST("/api/alarms/{alarm_id}/take-over", {
      params: { path: { alarm_id: id } },
      body: { pack: `owned:${pack}` },
    }),
  );
  touched(queries, "charges", "bench", "life");
}
