import { useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import type { DayAhead } from "@/api/types";
import { perform } from "@/app/act";
import { newKey } from "@/app/outbox";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { momentWords } from "@/format/time";
import { type Battery, takeLevelBack, tellLevel } from "@/stages/run/tomorrow/queries";

const KINDS: [Battery, string][] = [
  ["lead", "lead-acid"],
  ["lifepo4", "LiFePO4"],
  ["liion", "Li-ion"],
];

/** How full a battery that comes along is: as its display says, or by a multimeter. */
export function LevelLine({ supply }: { supply: DayAhead["supplies"][number] }) {
  const queries = useQueryClient();
  const p = usePreferences();
  const id = useId();
  const [told, setTold] = useState("");
  const [kind, setKind] = useState<Battery | "">("");
  const [wrong, setWrong] = useState("");
  const volts = /v\s*$/i.test(told);
  const tell = () => {
    const key = newKey();
    setWrong("");
    void perform(queries, {
      act: async () => {
        await tellLevel(supply.supply, { key, told, kind: volts && kind ? kind : null });
        setTold("");
      },
      touches: ["gear", "bench", "day"],
      fails: "It could not be kept.",
      onFail: setWrong,
      says: () => `The level of ${supply.name} is kept.`,
      undo: () => ({
        act: () => takeLevelBack(supply.supply, key),
        touches: ["gear", "bench", "day"],
        fails: "It could not be taken back.",
        says: () => "The level is as it was told before.",
      }),
    });
  };
  const holds = worded("energy", supply.holds_wh ?? 0, p);
  const by = supply.by_volts ? " by its volts, the least that they may mean" : "";
  const left = worded("energy", supply.left_wh ?? 0, p);
  const words = supply.told
    ? `${left} left of ${holds}, told ${momentWords(supply.told, p)}${by}, less what charges here took`
    : `${holds}, taken as full`;
  return (
    <form
      className="py-1 text-small"
      onSubmit={(e) => {
        e.preventDefault();
        tell();
      }}
    >
      <div className="flex flex-wrap items-baseline gap-x-2 gap-y-1">
        <label htmlFor={id}>
          {supply.name}: {words}
        </label>
        <input
          id={id}
          className="field number w-24 py-0"
          placeholder="80 %, 12.6 V"
          autoComplete="off"
          value={told}
          aria-invalid={wrong ? true : undefined}
          aria-describedby={wrong ? `${id}-wrong` : undefined}
          onChange={(e) => setTold(e.target.value)}
        />
        {volts && (
          <select
            aria-label={`What kind of battery ${supply.name} is`}
            className="field py-0"
            value={kind}
            onChange={(e) => setKind(e.target.value as Battery)}
          >
            <option value="">which kind?</option>
            {KINDS.map(([k, name]) => (
              <option key={k} value={k}>
                {name}
              </option>
            ))}
          </select>
        )}
        <button type="submit" className="action" disabled={!told.trim()}>
          Keep its level
        </button>
      </div>
      {wrong && (
        <p id={`${id}-wrong`} role="alert" className="text-alert">
          {wrong}
        </p>
      )}
    </form>
  );
}
