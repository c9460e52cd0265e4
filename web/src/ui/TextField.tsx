import { useId } from "react";

type Props = {
  label: string;
  value: string;
  onChange: (value: string) => void;
  problem?: string | undefined;
  hint?: string | undefined;
  short?: boolean | undefined;
  placeholder?: string | undefined;
  mono?: boolean;
};

/** A line of words with its label above it. */
export function TextField({
  label,
  value,
  onChange,
  problem,
  hint,
  short,
  placeholder,
  mono = false,
}: Props) {
  const id = useId();
  return (
    <div className="py-1">
      <label htmlFor={id} className="label block text-[13px]">
        {label}
      </label>
      <input
        id={id}
        className={`border-b border-rule-strong bg-transparent py-0.5 outline-none focus:border-fjord aria-[invalid=true]:border-alert ${short ? "w-24" : "w-full"} ${mono ? "number text-[13.5px]" : "font-medium"}`}
        value={value}
        placeholder={placeholder}
        autoComplete="off"
        spellCheck={false}
        aria-invalid={problem ? true : undefined}
        aria-describedby={problem ? `${id}-wrong` : hint ? `${id}-hint` : undefined}
        onChange={(e) => onChange(e.target.value)}
      />
      {problem ? (
        <p id={`${id}-wrong`} role="alert" className="text-xs text-alert">
          {problem}
        </p>
      ) : (
        hint && (
          <p id={`${id}-hint`} className="text-[11px] leading-[14px] text-ink-faint">
            {hint}
          </p>
        )
      )}
    </div>
  );
}
