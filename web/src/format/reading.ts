import { bare } from "@/format/quantity";

type Read = { cell_v: readonly number[]; pack_v: number | null };

/** Volts at rest as they were read: each cell, or the whole pack; nothing where nobody read any. */
export function asRead({ cell_v, pack_v }: Read): string | undefined {
  if (pack_v !== null) return bare("cell_voltage", pack_v);
  return cell_v.length > 0 ? cell_v.map((v) => bare("cell_reading", v)).join(" ") : undefined;
}

/** The same as a line that can be read again, in all its digits. */
export const lineOf = ({ cell_v, pack_v }: Read): string =>
  pack_v === null ? cell_v.join(" ") : String(pack_v);
