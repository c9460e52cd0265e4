import type { DayAhead } from "@/api/types";
import { keptStore } from "@/app/store";
import { Folded } from "@/parts/Folded";

/** What is packed already, of which day. */
const packed = keptStore<{ day: string; names: string[] }>("cold-stack.packed", (was) => {
  const kept = was as { day: string; names: string[] } | undefined;
  return Array.isArray(kept?.names) ? kept : { day: "", names: [] };
});

const KINDS = [
  ["pack", "Packs"],
  ["piece", "Leads and adapters"],
  ["charger", "Chargers"],
  ["kit", "Always"],
] as const;

/** The packing list, ticked on this device. */
export function Packing({ day, kept }: { day: DayAhead; kept: boolean }) {
  const had = packed.use();
  const names = had.day === day.start ? had.names : [];
  const tick = (name: string, done: boolean) =>
    packed.set({ day: day.start, names: done ? [...names, name] : names.filter((n) => n !== name) });
  const left = day.packing.length - day.packing.filter((x) => names.includes(x.name)).length;
  return (
    <Folded
      name={kept && left === 0 ? "To pack: all of it is in" : `To pack: ${left} of ${day.packing.length}`}
      className="mt-2"
      printed
    >
      <div className="mt-1 grid gap-x-8 sm:grid-cols-2">
        {KINDS.map(([kind, title]) => {
          const here = day.packing.filter((x) => x.kind === kind);
          return (
            here.length > 0 && (
              <fieldset key={kind} className="mb-2">
                <legend className="text-small text-ink-faint">{title}</legend>
                {here.map((x) => (
                  <label key={x.name} className="flex items-baseline gap-2 py-0.5">
                    <input
                      type="checkbox"
                      checked={names.includes(x.name)}
                      onChange={(e) => tick(x.name, e.target.checked)}
                    />
                    <span>
                      <span className={kind === "pack" ? "number font-semibold" : ""}>{x.name}</span>{" "}
                      <span className="text-small text-ink-soft">{x.why}</span>
                    </span>
                  </label>
                ))}
              </fieldset>
            )
          );
        })}
      </div>
    </Folded>
  );
}
