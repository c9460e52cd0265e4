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
      <label htmlFor={id} className="label block text-plain">
        {label}
      </label>
      <input
        id={id}
        className={`field py-0.5 ${short ? "w-24" : "w-full"} ${mono ? "number text-plain" : "font-medium"}`}
        value={value}
        placeholder={placeholder}
        autoComplete="off"
        spellCheck={false}
        aria-invalid={problem ? true : undefined}
        aria-describedby={problem ? `${id}-wrong` : hint ? `${id}-hint` : undefined}
        onChange={(e) => onChange(e.target.value)}
      />
      {problem ? (
        <p id={`${id}-wrong`} role="alert" className="text-small text-alert">
          {problem}
        </p>
      ) : (
        hint && (
          <p id={`${id}-hint`} className="text-fine leading-3.5 text-ink-faint">
            {hint}
          </p>
        )
      )}
    </div>
  );
}
