import type { Wiring } from "@/api/types";
import { MustNot } from "@/drawings/WiringPart";

/** What must not be plugged together here; nothing where there is no such. */
export default function BenchNever({ wiring }: { wiring: Wiring }) {
  return wiring.forbidden.length > 0 ? <MustNot wiring={wiring} /> : null;
}
