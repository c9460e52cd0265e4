import type { Plan } from "@/api/types";
import { worded } from "@/format/quantity";
import { heat } from "@/parts/heat";

const WIDTH = 232;
const HEIGHT = 40;

/** One cycle of the duty: a bar for each phase, as wide as it lasts, as high as its amps. */
export function DutyChart({ duty }: { duty: Plan["duty"] }) {
  let left = 0;
  const bars = duty.phases.map((phase, i) => {
    const width = (phase.duration_s / duty.cycle_s) * WIDTH;
    const height = Math.max(1, (phase.current_a / duty.peak_a) * HEIGHT);
    const bar = {
      key: i,
      left,
      width: Math.max(width - 1, 0.8),
      height,
      share: phase.current_a / duty.peak_a,
    };
    left += width;
    return bar;
  });
  const sentence = duty.phases
    .map((p) => `${worded("whole_seconds", p.duration_s)} at ${worded("current", p.current_a)}`)
    .slice(0, 6)
    .join(", then ");
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="mt-1.5 block h-10 w-full"
      preserveAspectRatio="none"
      role="img"
    >
      <title>{`Every ${worded("whole_seconds", duty.cycle_s)}: ${sentence}.`}</title>
      {bars.map((b) => (
        <rect
          key={b.key}
          x={b.left}
          y={HEIGHT - b.height}
          width={b.width}
          height={b.height}
          fill={heat(b.share > 0.85 ? 0.9 : b.share * 0.6)}
        />
      ))}
    </svg>
  );
}
