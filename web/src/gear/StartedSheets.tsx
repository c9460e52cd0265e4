import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { wordsOf } from "@/api/problem";
import type { GearKind } from "@/api/types";
import { notify } from "@/app/notices";
import { GEAR } from "@/gear/fields";
import { GearSheet } from "@/gear/GearSheet";
import { leadFor, twinOf } from "@/gear/queries";

/** A new one like another: what twins share is there, what is its own is asked. */
export function TwinSheet({ kind, id, onClose }: { kind: GearKind; id: number; onClose: () => void }) {
  const { data, error } = useQuery({
    queryKey: ["twin", kind, id],
    meta: { reads: ["gear"] },
    queryFn: () => twinOf(kind, id),
    gcTime: 0,
  });
  useGone(error, onClose);
  if (!data) return null;
  return (
    <GearSheet
      kind={kind}
      row={undefined}
      from={{
        key: `twin of ${id}`,
        values: data.row,
        say: "A twin shares what stands on the label. What was measured of the one, or noted, is asked.",
        asked: data.asked,
      }}
      onClose={onClose}
    />
  );
}

/** The lead that a new charger needs, ready to be added; nothing is shown where it needs none. */
export function LeadSheet({ charger, onClose }: { charger: number; onClose: () => void }) {
  const { data, error } = useQuery({
    queryKey: ["lead", charger],
    meta: { reads: ["gear"] },
    queryFn: () => leadFor(charger),
    gcTime: 0,
  });
  const none = data !== undefined && !data.row;
  useGone(error, onClose);
  useEffect(() => {
    if (none) onClose();
  }, [none, onClose]);
  if (!data?.row) return null;
  return (
    <GearSheet
      kind="pieces"
      row={undefined}
      from={{
        key: `lead of ${charger}`,
        values: { ...GEAR.pieces.start, ...data.row, assumed: null },
        say: data.sentence,
        asked: [],
      }}
      onClose={onClose}
    />
  );
}

function useGone(error: Error | null, onClose: () => void) {
  useEffect(() => {
    if (!error) return;
    notify(wordsOf(error, "It is not there any more."), { wrong: true });
    onClose();
  }, [error, onClose]);
}
