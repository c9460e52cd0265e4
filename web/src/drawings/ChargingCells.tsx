import type { Running } from "@/api/types";
import { CellsPicture } from "@/drawings/CellsPicture";

/** The cells of what charges now, as they were read last; one that an alarm is about stands out. */
export default function ChargingCells({ charge }: { charge: Running }) {
  const { cells, sentence } = charge.cells;
  if (cells.length === 0) return null;
  return (
    <section aria-label="Its cells now">
      <CellsPicture
        cells={cells}
        sentence={sentence}
        lowest={charge.lowest_v}
        highest={charge.full_cell_v}
        legend="V while it charges, and how far below the highest"
        underHighest
      />
    </section>
  );
}
