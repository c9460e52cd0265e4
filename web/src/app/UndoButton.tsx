import { undo, useSteps } from "@/app/undo";

/** What was done last, wherever in the program, to be taken back; absent where there is nothing. */
export function UndoButton({ className = "" }: { className?: string }) {
  const { undoLabel } = useSteps();
  if (!undoLabel) return null;
  return (
    <button type="button" className={`action ${className}`} onClick={() => void undo()}>
      Undo: {undoLabel}
    </button>
  );
}
