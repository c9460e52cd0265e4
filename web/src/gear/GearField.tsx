import { useQuery } from "@tanstack/react-query";
import { choicesQuery } from "@/app/queries";
import { type Field, listOf } from "@/gear/fields";
import { ChoiceField } from "@/parts/ChoiceField";
import { ChoicesField } from "@/parts/ChoicesField";
import { type Back, NumberField } from "@/parts/NumberField";
import { TextField } from "@/parts/TextField";

type Props = {
  field: Field;
  value: unknown;
  problem: string | undefined;
  /** Nobody gave this: it can be said to be so. */
  assumed?: (() => void) | undefined;
  /** The words of a label that it was read from, and what has to be asked of it. */
  read?: string | undefined;
  mind?: string | undefined;
  /** It looks like a slip. */
  asked?: Back | undefined;
  onChange: (value: unknown) => void;
};

/** One field of gear, by its description. */
export function GearField({ field, value, problem, assumed, read, mind, asked, onChange }: Props) {
  const { data: choices } = useQuery(choicesQuery);
  switch (field.as) {
    case "number":
      return (
        <NumberField
          label={field.label}
          kind={field.kind}
          step={field.step}
          value={typeof value === "number" ? value : null}
          optional={field.optional ?? false}
          placeholder={field.optional ? "—" : ""}
          problem={problem}
          hint={field.hint}
          assumed={assumed}
          read={read}
          mind={mind}
          asked={asked}
          onChange={onChange}
        />
      );
    case "words":
      return (
        <TextField
          label={field.label}
          value={typeof value === "string" ? value : ""}
          short={field.short}
          problem={problem}
          hint={mind ?? field.hint}
          onChange={onChange}
        />
      );
    case "choice": {
      const list = listOf(choices, field.from);
      const all = field.empty ? [{ id: "", name: field.empty, note: "" }, ...list] : list;
      return (
        <ChoiceField
          label={field.label}
          value={typeof value === "string" ? value : ""}
          choices={all}
          problem={problem}
          assumed={assumed}
          read={read}
          mind={mind}
          onChange={onChange}
        />
      );
    }
    case "choices":
      return (
        <ChoicesField
          label={field.label}
          value={Array.isArray(value) ? (value as string[]) : []}
          choices={listOf(choices, field.from).filter((c) => c.id !== "none" && c.id !== "integrated")}
          problem={problem}
          onChange={onChange}
        />
      );
    case "flag":
      return (
        <label className="flex cursor-pointer items-center gap-2 py-1">
          <input type="checkbox" checked={value === true} onChange={(e) => onChange(e.target.checked)} />
          {field.label}
        </label>
      );
  }
}
