/** The ramp from cold to ember. Loading never speaks by colour alone: a number stands beside it. */
export const HEAT_STEPS = [0.4, 0.65, 0.85, 1.0000001] as const;

export function heatStep(loading: number): 0 | 1 | 2 | 3 | 4 {
  const step = HEAT_STEPS.findIndex((limit) => loading < limit);
  return (step === -1 ? 4 : step) as 0 | 1 | 2 | 3 | 4;
}

export function heat(loading: number): string {
  return `var(--heat-${heatStep(loading)})`;
}
