import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { wordsOf } from "@/api/problem";
import type { StandingAlarm } from "@/api/types";
import { takeOver } from "@/app/alarms";
import { notify } from "@/app/notices";

/** A charge that was begun elsewhere is watched from here on: as which pack, by one who stands at it. */
export default function TakeOver({ alarm, packs }: { alarm: StandingAlarm; packs: readonly string[] }) {
  const queries = useQueryClient();
  const [pack, setPack] = useState("");
  const [wrong, setWrong] = useState("");
  const take = async () => {
    try {
      await takeOver(queries, alarm.id, pack);
      notify(`${pack} is watched from now on.`);
    } catch (problem) {
      setWrong(wordsOf(problem, "It could not be taken over."));
    }
  };
  return (
    <form
      className="mt-2 flex flex-wrap items-center gap-x-2 gap-y-1"
      onSubmit={(e) => {
        e.preventDefault();
        void take();
      }}
    >
      <label className="text-plain">
        It is pack{" "}
        <select
          className="field number"
          value={pack}
          required
          aria-invalid={wrong ? true : undefined}
          aria-describedby={wrong ? `take-over-${alarm.id}` : undefined}
          onChange={(e) => {
            setPack(e.target.value);
            setWrong("");
          }}
        >
          <option value="">…</option>
          {packs.map((x) => (
            <option key={x}>{x}</option>
          ))}
        </select>
      </label>
      <button type="submit" className="control" disabled={pack === ""}>
        I looked, it is cool: watch it here
      </button>
      {wrong && (
        <p id={`take-over-${alarm.id}`} role="alert" className="w-full text-plain text-alert">
          {wrong}
        </p>
      )}
    </form>
  );
}
