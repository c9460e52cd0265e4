import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import type { Job } from "@/api/types";
import { useLastGood } from "@/app/useLastGood";
import { BayPicture } from "@/drawings/BayPicture";
import { bayQuery } from "@/drawings/queries";

type Props = {
  slug: string;
  job: Job;
  packs: string[];
  dashes?: readonly (string | undefined)[];
};

/** Packs in the bay, with the sentence that says the same; of one, its place can be moved. */
export default function BayPart({ slug, job, packs, dashes }: Props) {
  const key = packs.join(" ");
  const [moved, setMoved] = useState<{ key: string; at: number }>();
  const at = moved?.key === key ? Math.round(moved.at) : undefined;
  const [ahead, setAhead] = useState(false);
  const asked = useDeferredValue(at);
  // what is wrong with the job is told at its field
  const data = useLastGood(useQuery(bayQuery(slug, job, packs, asked ?? null, ahead)).data);
  if (!data) return <p className="text-small text-ink-faint">Drawing the bay…</p>;
  if (data.length === 0) return null;
  const alone = packs.length === 1;
  return (
    <>
      <BayPicture
        bays={data}
        {...(dashes ? { dashes } : {})}
        at={at}
        onMove={alone ? (to) => setMoved({ key, at: to }) : undefined}
      />
      {data.map((d) => (
        <p key={d.id} className="mt-1 text-small leading-4.5 text-ink-soft">
          {!alone && <b className="font-semibold text-ink">{d.name}: </b>}
          {d.sentence}
        </p>
      ))}
      <p className="print-hidden flex flex-wrap gap-x-4">
        {data.some((d) => d.leads) && (
          <button
            type="button"
            aria-pressed={ahead}
            className="action min-h-6 text-small"
            onClick={() => setAhead(!ahead)}
          >
            Leads to the nose
          </button>
        )}
        {alone && at !== undefined && data[0]?.wanted_mm !== null && (
          <button type="button" className="action min-h-6 text-small" onClick={() => setMoved(undefined)}>
            Back to where it balances
          </button>
        )}
      </p>
    </>
  );
}
