import type { Have } from "@/api/types";
import { OneOf } from "@/parts/OneOf";

const COUNTS = ["0", "1", "2", "3", "4", "6"].map((id) => ({ id, name: id === "0" ? "None" : id }));

const STATES = [
  { id: "full", name: "Full" },
  { id: "stored", name: "In storage" },
  { id: "spent", name: "Spent" },
  { id: "", name: "Not known" },
] as const;

type Props = { have: Have; onChange: (have: Have) => void; least?: 0 | 1; two?: boolean };

/** How many of a pack are here, and how full they are. */
export function HaveFields({ have, onChange, least = 0, two = false }: Props) {
  return (
    <div className="space-y-1.5">
      <OneOf
        label={two ? "Single packs here" : "Packs here"}
        value={String(have.count)}
        choices={COUNTS.slice(least)}
        onChange={(id) => onChange({ ...have, count: Number(id) })}
      />
      {have.count > 0 && (
        <OneOf
          label="How full they are"
          value={have.state}
          choices={STATES}
          onChange={(state) => onChange({ ...have, state })}
        />
      )}
    </div>
  );
}
