import { answered, client } from "@/api/client";
import type { Job, Log, LogChosen, LogFit } from "@/api/types";

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

type TeachBody = { log: string; pack: string; chosen?: string; air_c?: number };

/** What a log tells of the pack with this tag. */
export function teachPack(file: File, tag: string, airC: number, chosen?: LogChosen): Promise<LogFit> {
  const form = new FormData();
  form.append("log", file);
  form.append("pack", tag);
  form.append("air_c", String(airC));
  if (chosen) form.append("chosen", JSON.stringify(chosen));
  return answered(
    client.POST("/api/draw/log/teach", {
      // the schema describes the parts; the browser sends the form itself
      body: form as unknown as TeachBody,
      bodySerializer: (body) => body as unknown as FormData,
    }),
  ) as Promise<LogFit>;
}

/** The next file that looks alike is read by this choice. */
export async function rememberLog(shape: string, chosen: LogChosen): Promise<void> {
  await client.PUT("/api/draw/log-shape", { body: { shape, chosen } });
}
