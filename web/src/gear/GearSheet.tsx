import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiProblem, isStale } from "@/api/problem";
import type { GearKind } from "@/api/types";
import { touched } from "@/app/act";
import { merge } from "@/app/merge";
import { notify } from "@/app/notices";
import { type Field, GEAR } from "@/gear/fields";
import { GearField } from "@/gear/GearField";
import { LabelBox, type LabelTyped, NO_LABEL, type Said } from "@/gear/LabelBox";
import { addGear, changeGear, gearQuery, tellChange } from "@/gear/queries";
import { askIfNow } from "@/gear/runsOn";
import { useSlips } from "@/gear/useSlips";
import type { Back } from "@/parts/NumberField";
import { SaveButton, useReds } from "@/parts/reds";
import { Sheet } from "@/parts/Sheet";

type Draft = Record<string, unknown>;
/** What is typed, and the row as it was when that began, with its version. */
type Typed = { draft: Draft; label: LabelTyped; base: Draft; version: string };
type Row = { id: number; name: string; version: string };
type Props = {
  kind: GearKind;
  row: Row | undefined;
  /** What a new one starts with (a twin, a lead), by what name its draft is kept, what to say of it. */
  from?: Start | undefined;
  onClose: () => void;
  /** After a new one is stored. */
  onAdded?: ((id: number) => void) | undefined;
};
export type Start = { key: string; values: Record<string, unknown>; say: string; asked: string[] };

/** What was typed and not yet saved stays, even if the sheet is closed. */
const drafts = new Map<string, Typed>();

/** One piece of gear, to add or to change. */
export function GearSheet({ kind, row, from, onClose, onAdded }: Props) {
  const spec = GEAR[kind];
  const queries = useQueryClient();
  const key = `${kind}:${row?.id ?? from?.key ?? "new"}`;
  const [typed, setTyped] = useState<Typed>(() => drafts.get(key) ?? untouched(kind, row, from));
  const { draft, label } = typed;
  const [problems, setProblems] = useState<ReadonlyMap<string, string>>(new Map());
  const [failed, setFailed] = useState<string>();
  const [saving, setSaving] = useState(false);
  const [round, setRound] = useState(0);
  const [reds, withReds] = useReds();
  const back = useSlips(kind, draft);
  const keep = (part: Partial<Typed>) => {
    const next = { ...typed, ...part };
    drafts.set(key, next);
    setTyped(next);
  };
  const startAgain = () => {
    drafts.delete(key);
    setTyped(untouched(kind, row, from));
    setProblems(new Map());
    setRound(round + 1);
  };
  const save = async () => {
    if (reds.length > 0) return;
    setSaving(true);
    setFailed(undefined);
    try {
      const kept = row
        ? await changeGear(kind, row.id, changedFields(draft, typed.base), typed.version)
        : await addGear(kind, draft);
      drafts.delete(key);
      tellChange(queries, kept.change);
      touched(queries, "gear");
      onClose();
      if (!row && "tag" in kept.row) void askIfNow(queries, kept.row.tag).catch(() => undefined);
      if (!row) onAdded?.(kept.row.id);
    } catch (problem) {
      if (row && isStale(problem)) {
        await changedElsewhere(row.id);
        return;
      }
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
  /** What was typed stays, over the row as it is by now; a field that both changed is asked about. */
  const changedElsewhere = async (id: number) => {
    const rows: Row[] = await queries.fetchQuery({ ...gearQuery(kind), staleTime: 0 });
    const now = rows.find((r) => r.id === id);
    if (!now) {
      setFailed("It was deleted elsewhere meanwhile. What you typed is kept here.");
      return;
    }
    const theirs = stored(kind, now);
    const { value, clashes } = merge(typed.base, draft, theirs);
    keep({ draft: value, base: theirs, version: now.version });
    setRound(round + 1);
    setProblems(new Map(clashes.map((c) => [c.path, `Changed elsewhere too, to ${shown(c.theirs)}.`])));
    setFailed(
      clashes.length > 0
        ? "It was changed elsewhere meanwhile. Save again to keep what stands here."
        : "It was changed elsewhere meanwhile, in other fields: they are here now. Save again to keep both.",
    );
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
        {withReds(
          <div className="px-5 py-3">
            {from && <p className="mb-4 border-l-4 border-fjord bg-ground px-4 py-2">{from.say}</p>}
            {isPack(kind) && !row && !from && (
              <LabelBox
                key={`label ${round}`}
                typed={label}
                onTyped={(next) => keep({ label: next })}
                onRead={(values, given, said) => {
                  // a mass that the label does not print is guessed: a question until the scale has spoken
                  const before = assumedOf(draft).filter((f) => f !== "mass_g");
                  const asked = "mass_g" in values ? [...before, "mass_g"] : before;
                  keep({
                    // what an earlier reading filled and this one does not say is empty again
                    draft: {
                      ...draft,
                      ...emptied(label.said, kind),
                      ...values,
                      assumed: asked.filter((f) => !given.includes(f)),
                    },
                    label: { ...label, read: true, said },
                  });
                }}
              />
            )}
            <Fields
              key={round}
              fields={spec.fields}
              draft={draft}
              problems={problems}
              said={label.said}
              asked={from?.asked ?? NOTHING}
              back={back}
              onChange={(part) =>
                keep({ draft: { ...draft, ...part }, label: { ...label, said: without(label.said, part) } })
              }
            />
          </div>,
        )}
        <div className="sticky bottom-0 flex flex-wrap items-center gap-3 border-t bg-sheet px-5 py-3">
          <SaveButton reds={reds} busy={saving}>
            {saving ? "Saving…" : row ? "Save" : "Add"}
          </SaveButton>
          {drafts.has(key) && (
            <button type="button" className="action" onClick={startAgain}>
              {row ? "Back to what is stored" : "Start again"}
            </button>
          )}
          {failed && (
            <p role="alert" className="text-plain text-alert">
              {failed}
            </p>
          )}
        </div>
      </form>
    </Sheet>
  );
}

const NOTHING: string[] = [];

/** A value as one reads it beside a field. */
function shown(value: unknown): string {
  if (value === true || value === false) return value ? "yes" : "no";
  if (value === null || value === "") return "nothing";
  return typeof value === "number"
    ? String(value)
    : `“${typeof value === "string" ? value : "something else"}”`;
}

function isPack(kind: GearKind): boolean {
  return kind === "packs" || kind === "catalogue";
}

function untouched(kind: GearKind, row: Props["row"], from: Start | undefined): Typed {
  const base = stored(kind, row);
  return { draft: { ...base, ...from?.values }, label: NO_LABEL, base, version: row?.version ?? "*" };
}

/** Fields that a label filled before, as they were before it was read. */
function emptied(said: Said, kind: GearKind): Draft {
  const start = GEAR[kind].start;
  return Object.fromEntries(
    Object.keys(said.words)
      .filter((name) => name in start)
      .map((name) => [name, start[name]]),
  );
}

/** What was read of a field no longer stands beside it once it is typed over. */
function without(said: Said, part: Draft): Said {
  const left = (of: Record<string, string>) =>
    Object.fromEntries(Object.entries(of).filter(([name]) => !(name in part)));
  return { words: left(said.words), asked: left(said.asked) };
}

function stored(kind: GearKind, row: Props["row"]): Draft {
  if (!row) return { ...GEAR[kind].start };
  const { id: _, version: __, ...values } = row;
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

const ITS_OWN = "its own: not taken from its twin";

type FieldsProps = {
  fields: Field[];
  draft: Draft;
  problems: ReadonlyMap<string, string>;
  said: Said;
  /** Fields that a twin does not share. */
  asked: string[];
  /** What looks like a slip, by its field. */
  back: (name: string) => Back | undefined;
  onChange: (part: Draft) => void;
};

function Fields({ fields, draft, problems, said, asked, back, onChange }: FieldsProps) {
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
              asked={back(field.name)}
              read={said.words[field.name]}
              mind={said.asked[field.name] ?? (asked.includes(field.name) ? ITS_OWN : undefined)}
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
