const LAST = "cold-stack.model";
/** Stands in an address where there is no model yet; no model is ever called so. */
export const NO_MODEL = "-";

/** The model that was worked on last, to open with. */
export function lastModel(): string {
  try {
    return localStorage.getItem(LAST) ?? NO_MODEL;
  } catch {
    return NO_MODEL;
  }
}

export function rememberModel(slug: string): void {
  try {
    localStorage.setItem(LAST, slug);
  } catch {
    // nothing kept, nothing lost: the first model opens next time
  }
}
