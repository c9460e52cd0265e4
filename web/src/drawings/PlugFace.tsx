import type { PlugFaceDrawn } from "@/api/types";
import { type Preferences, usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";

type Props = { face: PlugFaceDrawn; name: string /** 1 is true size on paper. */; scale: number };

const EDGE = 0.6;

/** A plug of a pack from the front, in millimetres: shell, contacts, which is plus where makers agree. */
export function PlugFace({ face, name, scale }: Props) {
  const p = usePreferences();
  const [w, h] = [face.width_mm, face.height_mm];
  const [width, height] = [w + 2 * EDGE, h + 2 * EDGE];
  return (
    <svg
      viewBox={`${-width / 2} ${-height / 2} ${width} ${height}`}
      style={{ width: `${width * scale}mm`, height: `${height * scale}mm` }}
      role="img"
      aria-label={`${name} from the front: ${faceWords(face, p)}`}
      className="block"
    >
      <Shell face={face} w={w} h={h} />
      {face.contacts.map((c) => (
        <g key={c.across_mm}>
          {face.shape === "round" ? (
            <circle
              cx={c.across_mm}
              cy={-c.up_mm}
              r={face.single ? c.width_mm / 2 : (c.width_mm / 2) * 1.12}
              fill={face.single ? "var(--hollow)" : "var(--ink)"}
              stroke="var(--ink)"
              strokeWidth="0.3"
            />
          ) : (
            <rect
              x={c.across_mm - c.width_mm / 2}
              y={-c.up_mm - c.height_mm / 2}
              width={c.width_mm}
              height={c.height_mm}
              fill="var(--ink)"
            />
          )}
          {c.pole !== "" && <Pole at={c.across_mm} edge={h / 2} plus={c.pole === "plus"} />}
        </g>
      ))}
    </svg>
  );
}

function Shell({ face, w, h }: { face: PlugFaceDrawn; w: number; h: number }) {
  const line = { fill: "var(--sheet)", stroke: "var(--ink)", strokeWidth: 0.35 };
  const cut = face.cut_mm ?? 0;
  if (cut > 0) {
    const [x, y] = [w / 2, h / 2];
    return (
      <path
        d={`M${-x} ${-y + cut} L${-x + cut} ${-y} H${x} V${y} H${-x + cut} L${-x} ${y - cut} Z`}
        {...line}
      />
    );
  }
  return <rect x={-w / 2} y={-h / 2} width={w} height={h} rx={face.round_shell ? h / 2 : 0.6} {...line} />;
}

/** The mark, by lines: letters of so few millimetres are no letters. */
function Pole({ at, edge, plus }: { at: number; edge: number; plus: boolean }) {
  const y = edge - 0.75;
  return (
    <path
      d={`M${at - 0.5} ${y} h1 ${plus ? `M${at} ${y - 0.5} v1` : ""}`}
      stroke="var(--ink)"
      strokeWidth="0.28"
      fill="none"
    />
  );
}

/** What the picture shows. */
export function faceWords(face: PlugFaceDrawn, p: Preferences): string {
  const mm = (value: number) => worded("fine_length", value, p);
  const contacts = { round: "round contacts", blade: "flat blades", square: "thin pins" }[face.shape];
  const size = `${contacts} of ${mm(face.contact_mm)}`;
  if (face.single) return `a plug for each pole, ${size}`;
  const shell = `${mm(face.width_mm)} × ${mm(face.height_mm)}`;
  const cut = (face.cut_mm ?? 0) > 0 ? ", minus at the cut corners" : "";
  const turned = face.turned ? ", one blade across the other" : "";
  return `${shell}, ${size}, ${mm(face.apart_mm ?? 0)} apart${cut}${turned}`;
}
