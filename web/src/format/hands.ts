/** Whose hands an act was in: this computer's, or a phone's by its name. */
export function handsWords(hands: string): string {
  return hands === "this computer" ? "at this computer" : `by the ${hands}`;
}
