type Props = {
  label: string;
  placeholder?: string;
  className?: string;
  value: string;
  onChange: (words: string) => void;
};

/** What one looks for in a list. */
export function SearchField({ label, placeholder = label, className = "", value, onChange }: Props) {
  return (
    <input
      type="search"
      aria-label={label}
      placeholder={placeholder}
      className={`field print-hidden py-1 ${className}`}
      value={value}
      onChange={(e) => onChange(e.target.value)}
    />
  );
}
