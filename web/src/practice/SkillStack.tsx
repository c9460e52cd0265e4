import type { PracticeKind, PracticeProgress } from "@/api/types";
import { OneOf } from "@/parts/OneOf";
import { LEVELS, useAddress } from "@/practice/address";

type Props = { kinds: PracticeKind[]; progress: PracticeProgress | undefined };

/** The small stack: a plate for each kind, filled by how sure one is of its levels now; pressed, it is what
 *  one practises. */
export function SkillStack({ kinds, progress }: Props) {
  const { at, to } = useAddress();
  const chosen = kinds.find((k) => k.id === at.kind);
  const sure = new Map(progress?.kinds.map((k) => [k.kind, k]));
  const part = { who: at.who, level: at.level, own: at.own };
  return (
    <aside aria-label="What to practise">
      <h2 className="heading mb-2">{progress ? "How sure you are" : "Kinds of tasks"}</h2>
      <ul>
        {kinds.map((k) => (
          <li key={k.id}>
            <button
              type="button"
              aria-pressed={k.id === at.kind}
              className={`flex min-h-8 w-full items-center justify-between gap-3 border px-2 text-left
                ${k.id === at.kind ? "chosen bg-sheet" : "border-transparent hover:border-rule-strong"}`}
              onClick={() => to(k.id === at.kind ? { who: at.who } : { ...part, kind: k.id })}
            >
              <span className="leading-4.5">{k.name}</span>
              {progress && <Plate levels={sure.get(k.id)?.levels ?? []} />}
            </button>
          </li>
        ))}
      </ul>
      {chosen ? (
        <div className="mt-4 space-y-3">
          <OneOf
            label="Level"
            value={at.level ?? "first_day"}
            choices={LEVELS}
            onChange={(level) => to({ ...part, kind: chosen.id, level })}
          />
          {chosen.of_own && (
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                checked={at.own ?? false}
                onChange={(e) => to({ ...part, kind: chosen.id, own: e.target.checked || undefined })}
              />
              of my own gear
            </label>
          )}
          <button type="button" className="action" onClick={() => to({ who: at.who })}>
            {progress ? "Back to what is due" : "Back to the first"}
          </button>
        </div>
      ) : (
        <p className="mt-3 text-small text-ink-faint">
          {progress
            ? "Each plate has a third for each level: first day, a season, expert. It empties as days go by."
            : "Press one to practise it. Say who you are, and what you know is remembered."}
        </p>
      )}
      <p className="mt-4 border-t pt-3">
        <button type="button" className="action" onClick={() => to({ who: at.who, sheet: true }, false)}>
          For instructors: sheets and courses
        </button>
      </p>
    </aside>
  );
}

/** One plate: a third for each level, as full as one is sure; dashed where it was never tried. */
function Plate({ levels }: { levels: readonly (number | null)[] }) {
  const words = levels
    .map((x, i) => `${LEVELS[i]?.name} ${x === null ? "not tried" : `${Math.round(100 * x)} % sure`}`)
    .join(", ");
  return (
    <svg
      viewBox="0 0 99 9"
      preserveAspectRatio="none"
      className="h-3 w-20 shrink-0"
      role="img"
      aria-label={words}
    >
      {levels.map((x, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a level is its place
        <g key={i}>
          <rect
            x={i * 33 + 0.5}
            y={0.5}
            width={32}
            height={8}
            fill={x === null ? "none" : "var(--hollow)"}
            stroke="var(--rule-strong)"
            strokeDasharray={x === null ? "2 2" : undefined}
            vectorEffect="non-scaling-stroke"
          />
          {x !== null && x > 0 && (
            <rect x={i * 33 + 0.5} y={0.5} width={32 * x} height={8} fill="var(--fjord)" />
          )}
        </g>
      ))}
    </svg>
  );
}
