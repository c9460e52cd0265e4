/** The pack that Size shows for each model, chosen or best, so that the other stages open on the same one. */
const picks = new Map<string, string>();

export function rememberPick(model: string, id: string | undefined): void {
  if (id) picks.set(model, id);
}

export function pickOf(model: string): string | undefined {
  return picks.get(model);
}
