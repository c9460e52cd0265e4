import type { Choice } from "@/api/types";

type Props = {
  label: string;
  value: readonly string[];
  choices: readonly Choice[];
  onChange: (ids: string[]) => void;
  problem?: string | undefined;
};

/** Several of a list, each a box to tick. */
export function ChoicesField({ label, value, choices, onChange, problem }: Props) {
  return (
    <fieldset className="py-1">
      <legend className="label text-[13px]">{label}</legend>
      <div className="mt-0.5 flex flex-wrap gap-x-4 gap-y-1">
        {choices.map((c) => (
          <label key={c.id} className="flex cursor-pointer items-center gap-1.5">
            <input
              type="checkbox"
              className="accent-fjord"
              checked={value.includes(c.id)}
              onChange={(e) =>
                onChange(e.target.checked ? [...value, c.id] : value.filter((other) => other !== c.id))
              }
            />
            {c.name}
          </label>
        ))}
      </div>
      {problem && (
        <p role="alert" className="text-xs text-alert">
          {problem}
        </p>
      )}
    </fieldset>
  );
}
