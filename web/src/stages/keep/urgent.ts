import type { Shelf } from "@/api/types";

/**
 * The pack whose page stands beside the shelf while none is picked: the one due first, else the first of
 * all.
 */
export function mostUrgent(shelf: Shelf | undefined): string | undefined {
  const groups = shelf?.groups ?? [];
  return (groups.find((g) => g.doing === "storage") ?? groups[0])?.packs[0]?.tag;
}
