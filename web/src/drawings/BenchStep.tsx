import type { Wiring } from "@/api/types";
import { StepPicture } from "@/drawings/WiringPart";

/** The picture of a step of the bench, by its id. */
export default function BenchStep({ wiring, id }: { wiring: Wiring; id: string }) {
  return <StepPicture wiring={wiring} step={wiring.plug_in.find((s) => s.id === id)} />;
}
