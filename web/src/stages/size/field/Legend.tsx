import { memo } from "react";
import { Folded } from "@/parts/Folded";
import { heat } from "@/parts/heat";

const STEPS = [
  ["under 40 %", 0.2],
  ["to 65 %", 0.5],
  ["to 85 %", 0.75],
  ["to 100 %", 0.95],
  ["over", 1.2],
] as const;

export const Legend = memo(function Legend() {
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1 text-fine text-ink-faint">
      <span>Hottest link:</span>
      {STEPS.map(([name, value]) => (
        <span key={name} className="flex items-center gap-1">
          <svg width="11" height="8" aria-hidden="true">
            <rect width="11" height="8" fill={heat(value)} stroke="var(--rule-strong)" strokeWidth="0.5" />
          </svg>
          {name}
        </span>
      ))}
      <Folded name="What marks mean">
        <p>
          Plates in a mark: cells in series. Outlined: does the job. Small: made up, for the shopping line.
          Dotted: of those, none is lighter and runs longer. Line: the picked pack, bigger or smaller.
        </p>
      </Folded>
    </div>
  );
});
