/** A plain document, as JSON has it. */
type Plain = Record<string, unknown>;

/** A figure that both sides changed, by its place in the document: "draw.average_a". */
export type Clash = { path: string; mine: unknown; theirs: unknown };
export type Merged<T> = { value: T; clashes: Clash[] };

/**
 * Two changes of one document, made apart, put together: what only one side changed is taken from it. Where
 * both changed the same figure otherwise, mine stands for now, and it is among the clashes. Lists of things
 * with a name are merged thing by thing (`keyed`: list → field of its name), other lists are one figure.
 */
export function merge<T>(base: T, mine: T, theirs: T, keyed: Record<string, string> = {}): Merged<T> {
  const clashes: Clash[] = [];
  const value = both(base, mine, theirs, "", keyed, clashes) as T;
  return { value, clashes };
}

function both(
  base: unknown,
  mine: unknown,
  theirs: unknown,
  path: string,
  keyed: Record<string, string>,
  clashes: Clash[],
): unknown {
  if (same(mine, theirs) || same(base, theirs)) return mine;
  if (same(base, mine)) return theirs;
  if (isPlain(base) && isPlain(mine) && isPlain(theirs)) {
    const names = new Set([...Object.keys(mine), ...Object.keys(theirs)]);
    const out: Plain = {};
    for (const name of names) {
      const at = path ? `${path}.${name}` : name;
      const made = both(base[name], mine[name], theirs[name], at, keyed, clashes);
      if (made !== undefined) out[name] = made;
    }
    return out;
  }
  const key = keyed[path];
  if (key && Array.isArray(mine) && Array.isArray(theirs)) {
    const by = (list: unknown) =>
      new Map((Array.isArray(list) ? list : []).map((x) => [(x as Plain)[key], x as unknown]));
    const [b, m, t] = [by(base), by(mine), by(theirs)];
    const out: unknown[] = [];
    for (const name of new Set([...m.keys(), ...t.keys()])) {
      const made = both(b.get(name), m.get(name), t.get(name), `${path}.${String(name)}`, keyed, clashes);
      if (made !== undefined) out.push(made);
    }
    return out;
  }
  clashes.push({ path, mine, theirs });
  return mine;
}

function isPlain(x: unknown): x is Plain {
  return typeof x === "object" && x !== null && !Array.isArray(x);
}

function same(a: unknown, b: unknown): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}
