import { useQuery } from "@tanstack/react-query";
import type { ChargeAsk, Job, PlugLook, Wiring } from "@/api/types";
import { BayPicture } from "@/drawings/BayPicture";
import { PinsPicture } from "@/drawings/CellsPicture";
import { PlugFace } from "@/drawings/PlugFace";
import { bayQuery, packDrawnQuery, plugLooksQuery, wiringQuery } from "@/drawings/queries";
import { SmallWiring, WiringPicture } from "@/drawings/WiringPicture";
import { usePrinting } from "@/parts/usePrinting";

type Props = { slug: string; job: Job; pack: string; charge: ChargeAsk };

/** The drawings of the build sheet: the bay, the wiring, the order, the pins, the plugs in true size. */
export default function BuildDrawn({ slug, job, pack, charge }: Props) {
  const printing = usePrinting();
  const { data: bays } = useQuery(bayQuery(slug, job, [pack], null));
  const { data: wirings } = useQuery(wiringQuery(slug, job, pack, charge));
  const { data: looks } = useQuery(plugLooksQuery);
  const tag = wirings?.tag ?? null;
  const { data: cells } = useQuery({ ...packDrawnQuery(tag ?? "", ""), enabled: tag !== null });
  if (!printing || !wirings) return null;
  const bay = bays?.[0];
  const charger = wirings.charge?.parts.find((x) => x.kind === "charger")?.name;
  return (
    <section
      aria-label="Drawings"
      className="print-only px-2 text-[7.5pt] leading-[9.5pt] [&_svg]:h-auto [&_svg]:max-w-full"
    >
      <div className="grid grid-cols-[3fr_2fr] gap-x-6">
        {bay && (
          <div>
            <h3 className="font-bold">In the bay</h3>
            <div className="max-w-[88mm] [&_svg]:max-h-[44mm]">
              <BayPicture bays={[bay]} />
            </div>
            <p>{bay.sentence}</p>
          </div>
        )}
        <div>
          {looks && <TrueSize wiring={wirings.drive} looks={looks} />}
          {cells && <PinsPicture drawn={cells} charger={charger} />}
        </div>
      </div>
      <Chain heading={`Into ${job.name}`} wiring={wirings.drive} />
      {wirings.charge && (
        <>
          <Chain heading="On the charger" wiring={wirings.charge} />
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
        </>
      )}
    </section>
  );
}

function Chain({ heading, wiring }: { heading: string; wiring: Wiring }) {
  return (
    <div className="mt-1 break-inside-avoid">
      <h3 className="font-bold">{heading}</h3>
      <WiringPicture
        parts={wiring.parts}
        joined={wiring.joined}
        loads={wiring.loads}
        toGet={wiring.to_get}
        label={wiring.sentence}
      />
      <p>{wiring.sentence}</p>
    </div>
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
