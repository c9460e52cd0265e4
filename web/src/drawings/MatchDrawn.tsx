import { useQuery } from "@tanstack/react-query";
import type { ChargeAsk, Job } from "@/api/types";
import { useLastGood } from "@/app/useLastGood";
import BayPart from "@/drawings/BayPart";
import { wiringQuery } from "@/drawings/queries";
import { SolderPart } from "@/drawings/SolderPart";
import { WiringWhole } from "@/drawings/WiringPart";

type Props = { slug: string; name: string; job: Job; pack: string; charge: ChargeAsk };

/** The pack in its bay, wired into the model, and on the charger. */
export default function MatchDrawn({ slug, name, job, pack, charge }: Props) {
  // what is wrong is told at its field, beside which it was typed
  const data = useLastGood(useQuery(wiringQuery(slug, job, pack, charge)).data);
  return (
    <section aria-label="As it is plugged together" className="border-t px-4 py-5 md:px-6">
      <h2 className="text-lead font-semibold">As it lies, and as it is plugged together</h2>
      <div className="mt-3 grid gap-x-12 gap-y-8 grid-cols-1 lg:grid-cols-[minmax(0,26rem)_minmax(0,1fr)]">
        <section aria-label="In the bay">
          <h3 className="heading">In the bay</h3>
          <div className="mt-1">
            <BayPart slug={slug} job={job} packs={[pack]} />
          </div>
        </section>
        <div className="space-y-8">
          {data && <WiringWhole wiring={data.drive} heading={`Into ${name}`} />}
          {data && data.soldering.length > 0 && (
            <section aria-label="To solder" className="space-y-2">
              <h3 className="heading">To solder</h3>
              {data.soldering.map((x) => (
                <SolderPart key={x.name} soldering={x} open={data.drive.to_get.length > 0} />
              ))}
            </section>
          )}
        </div>
      </div>
      {data?.charge && (
        <div className="mt-8">
          <WiringWhole wiring={data.charge} heading="On the charger" />
        </div>
      )}
    </section>
  );
}
