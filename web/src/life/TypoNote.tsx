import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answered, client } from "@/api/client";
import type { Typos } from "@/api/types";

const AFTER_MS = 400;

type Props = {
  tag: string;
  cells?: string;
  mohm?: string;
  /** The line as it may have been meant. */
  onUse: (line: string) => void;
};

/** Asks back what looks like a slip of the finger in cells as they are typed. What was typed stays. */
export function TypoNote({ tag, cells = "", mohm = "", onUse }: Props) {
  const settled = useSettled(`${cells}\n${mohm}`);
  const [typedCells = "", typedMohm = ""] = settled.split("\n");
  const { data } = useQuery({
    queryKey: ["slips", tag, typedCells, typedMohm],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: ({ signal }): Promise<Typos> =>
      answered(
        client.GET("/api/keep/packs/{tag}/typos", {
          params: { path: { tag }, query: { cells: typedCells, mohm: typedMohm } },
          signal,
        }),
      ),
    enabled: Boolean(tag && (typedCells.trim() || typedMohm.trim())),
    retry: false,
  });
  const asked = cells || mohm ? (data?.cells ?? data?.mohm) : undefined;
  return (
    <div aria-live="polite">
      {asked && (
        <p className="mt-1 border-l-4 border-ink pl-2 text-small">
          {asked.sentence}{" "}
          <button type="button" className="action" onClick={() => onUse(asked.meant)}>
            Use {asked.meant}
          </button>
        </p>
      )}
    </div>
  );
}

/** A text once it has not changed for a moment. */
function useSettled(text: string): string {
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = window.setTimeout(() => setSettled(text), AFTER_MS);
    return () => window.clearTimeout(timer);
  }, [text]);
  return settled;
}
