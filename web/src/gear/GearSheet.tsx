import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiProblem } from "@/api/problem";
import type { GearKind } from "@/api/types";
import { notify } from "@/app/notices";
import { type Field, GEAR } from "@/gear/fields";
import { GearField } from "@/gear/GearField";
import { LabelBox, type LabelTyped, NO_LABEL } from "@/gear/LabelBox";
import { addGear, changeGear, gearChanged, tellChange } from "@/gear/queries";
import { Sheet } from "@/ui/Sheet";

type Draft = Record<string, unknown>;
type Typed = { draft: Draft; label: LabelTyped };
type Props = { kind: GearKind; row: { id: number; name: string } | undefined; onClose: () => void };

/** What was typed and not yet saved stays, even if the sheet is closed. */
const drafts = new Map<string, Typed>();

/** One piece of gear, to add or to change. */
export function GearSheet({ kind, row, onClose }: Props) {
  const spec = GEAR[kind];
  const queries = useQueryClient();
  const key = `${kind}:${row?.id ?? "new"}`;
  const [typed, setTyped] = useState<Typed>(() => drafts.get(key) ?? untouched(kind, row));
  const { draft, label } = typed;
  const [problems, setProblems] = useState<ReadonlyMap<string, string>>(new Map());
  const [failed, setFailed] = useState<string>();
  const [saving, setSaving] = useState(false);
  const [round, setRound] = useState(0);
  const keep = (part: Partial<Typed>) => {
    const next = { ...typed, ...part };
    drafts.set(key, next);
    setTyped(next);
  };
  const startAgain = () => {
    drafts.delete(key);
    setTyped(untouched(kind, row));
    setProblems(new Map());
    setRound(round + 1);
  };
  const save = async () => {
    setSaving(true);
    setFailed(undefined);
    try {
      const kept = row
        ? await changeGear(kind, row.id, changedFields(draft, stored(kind, row)))
        : await addGear(kind, draft);
      drafts.delete(key);
      tellChange(queries, kept.change);
      gearChanged(queries);
      onClose();
    } catch (problem) {
      const fields = problem instanceof ApiProblem ? problem.fields : new Map<string, string>();
      setProblems(fields);
      setFailed(
        fields.size > 1
          ? `${fields.size} fields need attention.`
          : problem instanceof Error
            ? problem.message
            : "Not saved.",
      );
    } finally {
      setSaving(false);
    }
  };
  const title = row ? row.name : `Add: ${spec.one}`;
  return (
    <Sheet
      open
      onClose={() => {
        if (drafts.has(key)) notify("What you typed is kept: it is there when you open this again.");
        onClose();
      }}
      title={title}
      wide
    >
      <form
        noValidate
        onSubmit={(e) => {
          e.preventDefault();
          void save();
        }}
      >
        <div className="px-5 py-3">
          {kind === "packs" && !row && (
            <LabelBox
              key={`label ${round}`}
              typed={label}
              onTyped={(next) => keep({ label: next })}
              onRead={(values, given) => {
                // a mass that the label does not print is guessed: a question until the scale has spoken
                const before = assumedOf(draft).filter((f) => f !== "mass_g");
                const asked = "mass_g" in values ? [...before, "mass_g"] : before;
                keep({
                  draft: { ...draft, ...values, assumed: asked.filter((f) => !given.includes(f)) },
                  label: { ...label, read: true },
                });
              }}
            />
          )}
          <Fields
            key={round}
            fields={spec.fields}
            draft={draft}
            problems={problems}
            onChange={(part) => keep({ draft: { ...draft, ...part } })}
          />
        </div>
        <div className="sticky bottom-0 flex flex-wrap items-center gap-3 border-t bg-sheet px-5 py-3">
          <button type="submit" className="primary" disabled={saving}>
            {saving ? "Saving…" : row ? "Save" : "Add"}
          </button>
          {drafts.has(key) && (
            <button type="button" className="action" onClick={startAgain}>
              {row ? "Back to what is stored" : "Start again"}
            </button>
          )}
          {failed && (
            <p role="alert" className="text-[13px] text-alert">
              {failed}
            </p>
          )}
        </div>
      </form>
    </Sheet>
  );
}

function untouched(kind: GearKind, row: Props["row"]): Typed {
  return { draft: stored(kind, row), label: NO_LABEL };
}

function stored(kind: GearKind, row: Props["row"]): Draft {
  if (!row) return { ...GEAR[kind].start };
  const { id: _, ...values } = row;
  return values;
}

/** The fields of a pack that nobody gave. */
function assumedOf(draft: Draft): string[] {
  return Array.isArray(draft.assumed) ? (draft.assumed as string[]) : [];
}

function changedFields(draft: Draft, before: Draft): Draft {
  return Object.fromEntries(
    Object.entries(draft).filter(([name, value]) => JSON.stringify(value) !== JSON.stringify(before[name])),
  );
}

type FieldsProps = {
  fields: Field[];
  draft: Draft;
  problems: ReadonlyMap<string, string>;
  onChange: (part: Draft) => void;
};

function Fields({ fields, draft, problems, onChange }: FieldsProps) {
  const groups: { heading: string | undefined; fields: Field[] }[] = [];
  for (const field of fields) {
    if (field.heading || groups.length === 0) groups.push({ heading: field.heading, fields: [] });
    groups.at(-1)?.fields.push(field);
  }
  return (
    <div className="gap-x-10 md:columns-2">
      {groups.map((group) => (
        <div key={group.fields[0]?.name} className="mb-4 break-inside-avoid">
          {group.heading && <h3 className="heading mb-1">{group.heading}</h3>}
          {group.fields.map((field) => (
            <GearField
              key={field.name}
              field={field}
              value={draft[field.name]}
              problem={problems.get(field.name)}
              assumed={
                assumedOf(draft).includes(field.name)
                  ? () => onChange({ assumed: assumedOf(draft).filter((f) => f !== field.name) })
                  : undefined
              }
              onChange={(value) =>
                onChange({
                  [field.name]: value,
                  ...(assumedOf(draft).includes(field.name)
                    ? { assumed: assumedOf(draft).filter((f) => f !== field.name) }
                    : {}),
                })
              }
            />
          ))}
        </div>
      ))}
    </div>
  );
}
