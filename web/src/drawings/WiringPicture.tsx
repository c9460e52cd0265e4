import type { Plugged, Wiring, WiringPart } from "@/api/types";
import { Drawing } from "@/charts/Drawing";
import { lettersScale, useWidth } from "@/charts/useWidth";
import { PairDrawn } from "@/drawings/PairDrawn";
import { PartDrawn } from "@/drawings/PartDrawn";
import { placed } from "@/drawings/wiring";

type Load = Wiring["loads"][number];

type Props = {
  parts: WiringPart[];
  joined: Plugged[];
  loads?: Load[];
  toGet?: string[];
  label: string;
};

/** A wiring as it lies on the bench: plus and minus all along, plugs where they meet, what each carries. */
export function WiringPicture({ parts, joined, loads = [], toGet = [], label }: Props) {
  const [box, width] = useWidth<HTMLDivElement>(560);
  const drawn = placed(parts, joined, width, false);
  const byPlace = new Map(loads.map((x) => [x.at, x]));
  return (
    <div ref={box} className="overflow-x-auto">
      <Drawing width={drawn.width} height={drawn.height} role="img" aria-label={label}>
        {drawn.pairs.map((x) => (
          <PairDrawn key={`${x.pair.a} ${x.pair.b}`} {...x} load={byPlace.get(x.pair.a)} down={drawn.down} />
        ))}
        {drawn.parts.map((x) => (
          <PartDrawn
            key={x.part.id}
            {...x}
            plugs={drawn.plugs}
            load={byPlace.get(x.part.id)}
            toGet={toGet.includes(x.part.id)}
          />
        ))}
      </Drawing>
    </div>
  );
}

type SmallProps = {
  parts: WiringPart[];
  joined: Plugged[];
  live?: string[];
  struck?: boolean;
  label: string;
};

/** The same, small: what is plugged in, what hangs loose with volts on it; struck out what must not be. */
export function SmallWiring({ parts, joined, live = [], struck = false, label }: SmallProps) {
  // what feeds the charger is in from the first, and small pictures are of what one plugs
  const shown = parts.filter((p) => p.kind !== "supply");
  const drawn = placed(shown, joined, 0, true);
  const met = new Set(joined.flatMap((m) => [m.a, m.b]));
  const { width, height } = drawn;
  return (
    <Drawing
      width={width}
      height={height}
      role="img"
      aria-label={label}
      style={{ maxWidth: "100%" }}
      data-scale={lettersScale()}
    >
      {drawn.pairs.map((x) => (
        <PairDrawn key={`${x.pair.a} ${x.pair.b}`} {...x} load={undefined} down={false} small />
      ))}
      {drawn.parts.map((x) => (
        <PartDrawn
          key={x.part.id}
          {...x}
          plugs={drawn.plugs}
          load={undefined}
          toGet={false}
          small
          met={met}
          live={live}
        />
      ))}
      {struck && (
        <path d={`M2 ${height - 2} L${width - 2} 2`} stroke="var(--alert)" strokeWidth="2.5" fill="none" />
      )}
    </Drawing>
  );
}
