import { answered, client } from "@/api/client";
import type { Job, Log, LogChosen } from "@/api/types";

type Body = { log: string; motion?: Job["motion"]; chosen?: string };

/** The preview of a log, by what is chosen, else remembered, else recognised. */
export function readLog(file: File, motion: Job["motion"], chosen?: LogChosen): Promise<Log> {
  const form = new FormData();
  form.append("log", file);
  form.append("motion", motion);
  if (chosen) form.append("chosen", JSON.stringify(chosen));
  return answered(
    client.POST("/api/draw/log", {
      // the schema describes the parts; the browser sends the form itself
      body: form as unknown as Body,
      bodySerializer: (body) => body as unknown as FormData,
    }),
  ) as Promise<Log>;
}

/** The next file that looks alike is read by this choice. */
export async function rememberLog(shape: string, chosen: LogChosen): Promise<void> {
  await client.PUT("/api/draw/log-shape", { body: { shape, chosen } });
}
