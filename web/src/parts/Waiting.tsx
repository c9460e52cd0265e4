import { useSlow } from "@/parts/useSlow";

type Props = { words: string; className?: string };

/** What is being worked out; that it takes long is said, so that nobody thinks it lost. */
export function Waiting({ words, className = "" }: Props) {
  const slow = useSlow(true);
  return (
    <p className={`text-ink-faint ${className}`} aria-busy="true" data-waiting>
      {words}
      {slow && " It takes longer than usual and goes on."}
    </p>
  );
}
