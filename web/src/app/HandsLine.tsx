import { useQuery } from "@tanstack/react-query";
import { worldQuery } from "@/app/world";

const LOOK = "text-small text-ink-soft";

/** On a paired phone: what these hands may do. Absent at the computer itself. */
export function HandsLine({ onPhones }: { onPhones: () => void }) {
  const { data } = useQuery(worldQuery);
  if (!data || data.hands === "here") return null;
  return (
    <p className={`no-print flex flex-wrap items-baseline gap-x-2 border-b px-4 py-1 md:px-6 ${LOOK}`}>
      {data.hands === "look"
        ? "This phone may look only: what you try here is not kept."
        : "This phone may do everything."}
      <button type="button" className="action min-h-6" onClick={onPhones}>
        Its pairing
      </button>
    </p>
  );
}
