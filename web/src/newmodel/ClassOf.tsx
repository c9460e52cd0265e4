import type { Likely, ModelKind } from "@/api/types";
import { OneOf } from "@/parts/OneOf";

type Props = {
  classes: ModelKind["classes"];
  chosen: string | null;
  /** What it is taken for, as long as nobody chose. */
  likely: Likely | undefined;
  problem: string | undefined;
  onChange: (id: string | null) => void;
};

/** Which of its kind it is: one choice in words, guessed until it is made, and said to be a guess. */
export function ClassOf({ classes, chosen, likely, problem, onChange }: Props) {
  const guess = chosen === null ? likely : undefined;
  const choices = [{ id: "", name: "Guess it" }, ...classes];
  return (
    <div className="mt-2.5">
      <OneOf
        label="Which of them"
        value={chosen ?? ""}
        choices={choices}
        onChange={(id) => onChange(id === "" ? null : id)}
      />
      {guess && (
        <p className={`mt-1 text-small ${guess.ask ? "border-ink border-l-4 pl-2" : "text-ink-faint"}`}>
          Taken for {guess.name}, by what you told.
          {guess.ask && " Another one would make another answer: say which it is."}
        </p>
      )}
      {problem && (
        <p role="alert" className="mt-1 text-small text-alert">
          {problem}
        </p>
      )}
    </div>
  );
}
