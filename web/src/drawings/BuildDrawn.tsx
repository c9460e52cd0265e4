import { useQuery } from "@tanstack/react-query";
import type { ChargeAsk, Job, PlugLook, Wiring } from "@/api/types";
import { BayPicture } from "@/drawings/BayPicture";
import { PinsPicture } from "@/drawings/CellsPicture";
import { PlugFace } from "@/drawings/PlugFace";
import { bayQuery, packDrawnQuery, plugLooksQuery, wiringQuery } from "@/drawings/queries";
import { SmallWiring, WiringPicture } from "@/drawings/WiringPicture";
import { ownedTag } from "@/format/packId";
import { usePrinting } from "@/parts/usePrinting";

type Props = { slug: string; job: Job; pack: string; charge: ChargeAsk };

/** The drawings of the build sheet: the bay, the wiring, the order, the pins, the plugs in true size. */
export default function BuildDrawn({ slug, job, pack, charge }: Props) {
  const printing = usePrinting();
  const tag = ownedTag(pack);
  const { data: bays } = useQuery(bayQuery(slug, job, [pack], null));
  const { data: wirings } = useQuery(wiringQuery(slug, job, pack, charge));
  const { data: looks } = useQuery(plugLooksQuery);
  const { data: cells } = useQuery({ ...packDrawnQuery(tag ?? "", ""), enabled: tag !== undefined });
  if (!printing || !wirings) return null;
  const bay = bays?.[0];
  return (
    <section
      aria-label="Drawings"
      className="p-2 text-[8.5pt] leading-[11pt] [&_svg]:h-auto [&_svg]:max-w-full"
    >
      <div className="grid grid-cols-2 gap-x-6">
        {bay && (
          <div>
            <h3 className="font-bold">In the bay</h3>
            <BayPicture bays={[bay]} />
            <p>{bay.sentence}</p>
          </div>
        )}
        <div>
          <h3 className="font-bold">Into {job.name}</h3>
          <Chain wiring={wirings.drive} />
          {looks && <TrueSize wiring={wirings.drive} looks={looks} />}
          {cells && <PinsPicture drawn={cells} />}
        </div>
      </div>
      {wirings.charge && (
        <div className="mt-2">
          <h3 className="font-bold">On the charger</h3>
          <Chain wiring={wirings.charge} />
          <ol className="mt-1 grid grid-cols-3 gap-x-4">
            {wirings.charge.plug_in
              .filter((s) => s.new.length > 0)
              .map((s, i) => (
                <li key={s.id}>
                  {i + 1}. {s.sentence}
                  <SmallWiring
                    parts={wirings.charge?.parts ?? []}
                    joined={s.joined}
                    live={s.live}
                    label={s.sentence}
                  />
                </li>
              ))}
          </ol>
        </div>
      )}
    </section>
  );
}

function Chain({ wiring }: { wiring: Wiring }) {
  return (
    <>
      <WiringPicture
        parts={wiring.parts}
        joined={wiring.joined}
        loads={wiring.loads}
        toGet={wiring.to_get}
        label={wiring.sentence}
      />
      <p>{wiring.sentence}</p>
    </>
  );
}

/** The plugs of a wiring, each once: lay the plug on its picture. */
function TrueSize({ wiring, looks }: { wiring: Wiring; looks: PlugLook[] }) {
  const families = new Set(
    wiring.parts.flatMap((p) => p.plugs.filter((x) => x.what === "main").map((x) => x.family)),
  );
  const drawn = looks.filter((p) => families.has(p.id) && p.face);
  if (drawn.length === 0) return null;
  return (
    <div className="mt-1 flex flex-wrap items-end gap-4">
      {drawn.map(
        (p) =>
          p.face && (
            <figure key={p.id}>
              <PlugFace face={p.face} name={p.name} scale={1} />
              <figcaption>{p.name}, true size</figcaption>
            </figure>
          ),
      )}
    </div>
  );
}
