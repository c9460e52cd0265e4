/** Whether every word that is looked for stands in a text, in whatever order. */
export function finder(words: string): (text: string) => boolean {
  const parts = words.toLowerCase().split(/\s+/).filter(Boolean);
  return (text) => {
    const lower = text.toLowerCase();
    return parts.every((part) => lower.includes(part));
  };
}
