import { useQuery } from "@tanstack/react-query";
import type { ChargeAsk, Job } from "@/api/types";
import { useLastGood } from "@/app/useLastGood";
import BayPart from "@/drawings/BayPart";
import { wiringQuery } from "@/drawings/queries";
import { WiringPicture } from "@/drawings/WiringPicture";

type Props = { slug: string; job: Job; pack: string };

/** The picked pack in the bay, and how it, or two of it, go into the model. */
export default function PickedDrawn({ slug, job, pack }: Props) {
  const data = useLastGood(useQuery(wiringQuery(slug, job, pack, NO_CHOICE)).data);
  return (
    <>
      <BayPart slug={slug} job={job} packs={[pack]} />
      {data && (
        <div className="mt-3">
          <WiringPicture
            parts={data.drive.parts}
            joined={data.drive.joined}
            loads={data.drive.loads}
            toGet={data.drive.to_get}
            label={data.drive.sentence}
          />
          <p className="mt-1 text-small leading-4.5 text-ink-soft">{data.drive.sentence}</p>
        </div>
      )}
    </>
  );
}

const NO_CHOICE: ChargeAsk = { cells: "", charger: null, ports_in_use: 1, source: null, supply: null };
