import { useCallback } from "react";
import type { PackNow } from "@/api/types";
import { useLine } from "@/app/line";
import { type SaidHere, unknownTo, useSaid } from "@/app/said";
import { usePreferences } from "@/format/preferences";
import { timeAlone } from "@/format/time";

type Now = { tag: string } & Pick<
  PackNow,
  "state" | "charge" | "lowest_soc" | "cell_v" | "pack_v" | "cells_at"
>;
/** What was said of a pack here that its list does not know yet: in words, and which signs. */
export type Here = { words: string; signs: string[] };

/** Lists that were asked while there is a line know all that was sent. */
const ALL_SENT = Number.POSITIVE_INFINITY;
const NONE_SENT = -1;
const A_MOMENT_MS = 120_000;
const WORDS = {
  full: "full",
  part: "part full",
  stored: "brought to storage",
  spent: "spent",
  too_low: "too low",
} as const;

/**
 * Packs as they are by what waits on this device too: never fuller than one who knows all would say. What was
 * sent counts as long as there is no line by which the lists could have been asked anew.
 */
export function useAsSaid(): <T extends Now>(pack: T) => T & { here?: Here } {
  const said = useSaid();
  const lost = useLine();
  const p = usePreferences();
  return useCallback(
    (pack) => {
      if (said.acts.length === 0) return pack;
      const acts = unknownTo(lost === undefined ? ALL_SENT : NONE_SENT, pack.tag, said).filter(
        (a) => a.sent === null || (lost !== undefined && a.at >= lost - A_MOMENT_MS),
      );
      const last = acts.at(-1);
      if (!last) return pack;
      const now: typeof pack = Object.assign({}, pack, ...acts.map(after));
      const at = timeAlone(new Date(last.at).toISOString(), p);
      const waits = last.sent === null ? ", not sent yet" : "";
      return { ...now, here: { words: `${wordsOf(last)} here at ${at}${waits}.`, signs: signsOf(acts) } };
    },
    [said, lost, p],
  );
}

const UNREAD = { cell_v: [], pack_v: null, cells_at: null, lowest_soc: null };

/** What an act leaves a pack in, where that needs no reckoning. */
function after(act: SaidHere): Partial<Now> {
  if (act.kind === "run") return { state: "spent", charge: "spent", ...UNREAD };
  if (act.kind === "left") return { state: act.body.state, charge: act.body.state, ...UNREAD };
  if (act.kind === "charged" || (act.kind === "check" && act.body.put_in_mah !== null))
    return { state: "full", charge: "full", ...UNREAD };
  // how full that is only a reckoning tells
  if (act.kind === "check" && act.body.cells.trim()) return { state: null, charge: null, ...UNREAD };
  return {};
}

function wordsOf(act: SaidHere): string {
  switch (act.kind) {
    case "run":
      return "Run";
    case "left":
      return `Noted as ${WORDS[act.body.state]}`;
    case "charged":
      return "Charged";
    case "check":
      return act.body.put_in_mah === null ? "Read" : "Charged";
    case "look":
      return act.body.signs.length > 0 ? "Something was seen" : "Looked at";
    default:
      return "Noted";
  }
}

function signsOf(acts: SaidHere[]): string[] {
  const found = acts.flatMap((a) => (a.kind === "look" || a.kind === "run" ? (a.body.signs ?? []) : []));
  return [...new Set(found)].filter((id) => id !== "warm");
}
