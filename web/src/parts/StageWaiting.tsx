import { Failed } from "@/parts/Failed";
import { Waiting } from "@/parts/Waiting";

type Props = { heading: string; words: string; error?: Error | null; onRetry?: () => void };

/** A screen that has no answer yet: it holds the whole height, so that nothing below is seen to move. */
export function StageWaiting({ heading, words, error, onRetry = () => undefined }: Props) {
  return (
    <main className="min-h-dvh flex-1 px-4 py-10 md:px-6" aria-busy={!error}>
      <h1 className="sr-only">{heading}</h1>
      {error ? <Failed error={error} onRetry={onRetry} className="" /> : <Waiting words={words} />}
    </main>
  );
}
