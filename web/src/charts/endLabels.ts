/** Numbers of cells at the ends of their lines; lines that end together share a label: "1 2 3". */
export function endLabels(ends: { k: number; at: number }[]): { text: string; at: number }[] {
  const out: { names: number[]; at: number }[] = [];
  for (const end of [...ends].sort((a, b) => a.at - b.at)) {
    const near = out.at(-1);
    if (near && end.at - near.at < 11) near.names.push(end.k);
    else out.push({ names: [end.k], at: end.at });
  }
  return out.map(({ names, at }) => ({ text: names.sort((a, b) => a - b).join(" "), at }));
}
