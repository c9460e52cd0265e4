import type { Wiring } from "@/api/types";
import { MustNot, StepPicture } from "@/drawings/WiringPart";

type Props = {
  wiring: Wiring;
  /** A step of the bench by its id, or what must never be. */
  step: string | "never";
};

/** The picture of one step, in or out; or all that must not be plugged together here. */
export default function BenchDrawn({ wiring, step }: Props) {
  if (step === "never") return wiring.forbidden.length > 0 ? <MustNot wiring={wiring} /> : null;
  const found = [...wiring.plug_in, ...wiring.pull_out].find((s) => s.id === step);
  return <StepPicture wiring={wiring} step={found} />;
}
