import { keeping, store } from "@/app/store";

/** Whether this browser still keeps what it is given: "nearly" full, or "full". */
const room = store<"nearly" | "full" | undefined>(undefined);
export const useRoom = room.use;

/** So many letters a browser keeps for a page at least; a run takes four hundred. */
const LETTERS = 5_000_000;
const NEARLY = 0.9;
const A_RUN = 1000;
const PROBE = "cold-stack.room";

/** Looked for as the page opens, and after whatever was kept or not. */
export function lookForRoom(kept = true, where: () => Storage = () => localStorage): void {
  const found = kept ? look(where) : "full";
  if (found !== room.get()) room.set(found);
}

/** Begins to look. */
export function watchRoom(): void {
  keeping.heard = lookForRoom;
  lookForRoom();
}

function look(kept: () => Storage): "nearly" | "full" | undefined {
  try {
    const where = kept();
    where.setItem(PROBE, "x".repeat(A_RUN));
    where.removeItem(PROBE);
    let used = 0;
    for (let i = 0; i < where.length; i += 1) {
      const name = where.key(i) ?? "";
      used += name.length + (where.getItem(name)?.length ?? 0);
    }
    return used > NEARLY * LETTERS ? "nearly" : undefined;
  } catch {
    return "full";
  }
}
