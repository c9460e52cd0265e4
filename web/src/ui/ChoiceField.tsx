import { useId } from "react";
import type { Choice } from "@/api/types";

type Props = {
  label: string;
  value: string;
  choices: readonly Choice[];
  onChange: (id: string) => void;
  problem?: string | undefined;
  showNote?: boolean;
};

/** One of a list. The browser's own list: it works with every keyboard, reader and phone. */
export function ChoiceField({ label, value, choices, onChange, problem, showNote = false }: Props) {
  const id = useId();
  const chosen = choices.find((c) => c.id === value);
  return (
    <div className="py-0.5">
      <div className="flex items-baseline justify-between gap-2">
        <label htmlFor={id} className="label shrink-0 text-[13px]">
          {label}
        </label>
        <select
          id={id}
          className="min-w-0 cursor-pointer border-b border-transparent bg-transparent py-0.5 text-right font-medium hover:border-rule-strong [&>option]:bg-sheet"
          value={value}
          aria-invalid={problem ? true : undefined}
          onChange={(e) => onChange(e.target.value)}
        >
          {choices.map((c) => (
            <option key={c.id} value={c.id}>
              {c.name}
            </option>
          ))}
        </select>
      </div>
      {problem && (
        <p role="alert" className="text-xs text-alert">
          {problem}
        </p>
      )}
      {showNote && chosen?.note && <p className="text-[11px] leading-[14px] text-ink-faint">{chosen.note}</p>}
    </div>
  );
}
