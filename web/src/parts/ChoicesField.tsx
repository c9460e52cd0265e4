import type { Choice } from "@/api/types";

type Props = {
  label: string;
  value: readonly string[];
  choices: readonly Choice[];
  onChange: (ids: string[]) => void;
  problem?: string | undefined;
};

/** More than so many are folded away under the names of those chosen. */
const MANY = 10;

/** Several of a list, each a box to tick. */
export function ChoicesField({ label, value, choices, onChange, problem }: Props) {
  const boxes = (
    <div className="mt-0.5 flex flex-wrap gap-x-4 gap-y-1">
      {choices.map((c) => (
        <label key={c.id} className="flex cursor-pointer items-center gap-1.5">
          <input
            type="checkbox"
            checked={value.includes(c.id)}
            onChange={(e) =>
              onChange(e.target.checked ? [...value, c.id] : value.filter((other) => other !== c.id))
            }
          />
          {c.name}
        </label>
      ))}
    </div>
  );
  const chosen = choices.filter((c) => value.includes(c.id)).map((c) => c.name);
  return (
    <fieldset className="py-1">
      <legend className="label text-plain">{label}</legend>
      {choices.length > MANY ? (
        <details>
          <summary className="min-h-6 py-0.5 font-medium">
            {chosen.length > 0 ? chosen.join(", ") : "none"}
            <span className="action ml-2 text-small font-normal">choose</span>
          </summary>
          {boxes}
        </details>
      ) : (
        boxes
      )}
      {problem && (
        <p role="alert" className="text-small text-alert">
          {problem}
        </p>
      )}
    </fieldset>
  );
}
