import type { LeftState, RunAsk, RunMore } from "@/api/types";
import type { Part } from "@/app/reads";

type Check = {
  cells: string;
  mohm: string;
  temperature_c: number | null;
  put_in_mah: number | null;
  balance_min: number | null;
};
type Look = { signs: string[]; at_room: boolean; temperature_c: number | null };

/** What may be said without a line, each with its own body. */
export type Acts = {
  run: RunAsk;
  note: { tag: string; text: string };
  check: { tag: string } & Check;
  look: { tag: string } & Look;
  left: { packs: string[]; state: LeftState };
  charged: { packs: string[]; put_in_mah: number | null };
  /** What is known of a run besides, by the run's key. */
  more: { run: string; pack: string } & RunMore;
  /** A friend's pack, by the line that tells its tag and its label. */
  lent: { line: string };
};
export type Kind = keyof Acts;

/** Who asks anew when the server has it. */
export const touchedBy = (kind: Kind): Part[] => (kind === "lent" ? ["gear", "life"] : ["life"]);
