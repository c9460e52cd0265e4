const LAST = "cold-stack.model";

/** The model that was worked on last, to open with. */
export function lastModel(): string {
  try {
    return localStorage.getItem(LAST) ?? "ptarmigan";
  } catch {
    return "ptarmigan";
  }
}

export function rememberModel(slug: string): void {
  try {
    localStorage.setItem(LAST, slug);
  } catch {
    // nothing kept, nothing lost: the first model opens next time
  }
}
