/** What is live, and bare or loose. */
export function Bolt({ x, y, title }: { x: number; y: number; title?: string }) {
  return (
    <path d={`M${x + 1.5} ${y - 6} l-4 7 h3 l-2 6 l5 -8 h-3 l2 -5 z`} fill="var(--alert)">
      {title && <title>{title}</title>}
    </path>
  );
}

/** Words that are read across a wire which runs behind them; `on` is the colour behind both. */
export const overWires = (on: string) => ({ paintOrder: "stroke", stroke: on, strokeWidth: 3 }) as const;

type StepProps = { number: number; sentence: string; why: string; children: React.ReactNode };

/** One step of several: its number, its words, its picture. */
export function NumberedStep({ number, sentence, why, children }: StepProps) {
  return (
    <li className="border-t pt-2">
      <p className="text-small leading-4.5">
        <span className="number mr-1.5 font-semibold">{number}</span>
        {sentence}
        {why && <span className="block text-ink-faint">{why}</span>}
      </p>
      {children}
    </li>
  );
}
