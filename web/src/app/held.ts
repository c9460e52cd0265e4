/** What an address holds may be anything: what is not meant is as if it were not there. */
export type Held = Record<string, unknown>;

/** Ids may look like numbers. */
export function text(held: unknown): string | undefined {
  return typeof held === "string" || typeof held === "number" ? String(held) : undefined;
}

export function texts(held: unknown, most: number): string[] | undefined {
  if (!Array.isArray(held) || held.length > most) return undefined;
  const found = held.map(text);
  return found.every((one) => one !== undefined) ? found : undefined;
}

export function flag(held: unknown): boolean | undefined {
  return typeof held === "boolean" ? held : undefined;
}

export function number(
  held: unknown,
  least = Number.NEGATIVE_INFINITY,
  most = Number.POSITIVE_INFINITY,
): number | undefined {
  return typeof held === "number" && held >= least && held <= most ? held : undefined;
}

export function oneOf<T extends string>(held: unknown, known: readonly T[]): T | undefined {
  return known.find((one) => one === held);
}

/** Every part of an address may be left out. */
export function optional<T extends object>(found: T): Partial<T> {
  return found;
}
