/** Volts as a charger shows what it is set to. */
export function voltsSet(volts: number): string {
  return volts.toFixed(2);
}

/** Minutes as one counts on: whole ones. */
export function wholeMinutes(minutes: number): string {
  return minutes.toFixed(0);
}
