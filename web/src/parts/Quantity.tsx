import { usePreferences } from "@/format/preferences";
import { type Kind, shown } from "@/format/quantity";

type Props = { kind: Kind; value: number; className?: string };

/** A number with its unit: the number big, the unit small and always there. */
export function Quantity({ kind, value, className = "" }: Props) {
  const s = shown(kind, value, usePreferences());
  return (
    <span className={`number whitespace-nowrap ${className}`}>
      {s.text}
      {s.unit && <span className="unit">{s.unit}</span>}
    </span>
  );
}
