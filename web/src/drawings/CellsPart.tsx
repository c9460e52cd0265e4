import { useQuery } from "@tanstack/react-query";
import { useDeferredValue } from "react";
import { CellsPicture, PinsPicture } from "@/drawings/CellsPicture";
import { packDrawnQuery } from "@/drawings/queries";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";

type Props = { tag: string; cells?: string; pins?: boolean };

/** A pack as it is: its cells side by side, its balance plug, and in words what stands out. */
export default function CellsPart({ tag, cells = "", pins = false }: Props) {
  const p = usePreferences();
  const { data } = useQuery(packDrawnQuery(tag, useDeferredValue(cells)));
  if (!data) return <div className="min-h-36" />;
  return (
    <section aria-label="Its cells" className="space-y-3">
      <div>
        <p className="text-small font-semibold">{data.sentence}</p>
        <div className="mt-1">
          <CellsPicture
            cells={data.cells}
            sentence={data.sentence}
            lowest={data.lowest_v}
            highest={data.highest_v}
            legend={`V at rest, mΩ at ${worded("temperature", 25, p)}`}
          />
        </div>
      </div>
      {pins && <PinsPicture drawn={data} />}
    </section>
  );
}
