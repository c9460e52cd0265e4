import type { RunMore, RunPack } from "@/api/types";
import { landedProblem } from "@/format/cells";
import { parsed } from "@/format/parse";
import { type Preferences, usePreferences } from "@/format/preferences";
import { unitOf } from "@/format/quantity";
import { localMinute } from "@/format/time";
import { readTyped } from "@/format/typed";
import { TimeField } from "@/parts/TimeField";

/** What is known of a run beside its minutes, as it is typed. */
export type Draft = { mah: string; volts: string; warmth: string; hour: string; note: string };
export const NOTHING: Draft = { mah: "", volts: "", warmth: "", hour: "", note: "" };

/** The same as it is kept; or what is wrong. */
export type Read = { more: RunMore; wrong?: undefined } | { wrong: string; more?: undefined };

export function readDetails(draft: Draft, of: RunPack | undefined, p: Preferences, now = new Date()): Read {
  const mah = draft.mah.trim() ? readTyped(draft.mah, "mAh") : undefined;
  if (mah && "problem" in mah) return { wrong: mah.problem };
  const warmth = draft.warmth.trim() ? parsed("temperature", draft.warmth, p) : undefined;
  if (warmth && "problem" in warmth) return { wrong: warmth.problem };
  const odd = of && draft.volts.trim() ? landedProblem(draft.volts, of.series, of.highest_v) : undefined;
  if (odd) return { wrong: odd };
  return {
    more: {
      put_back_mah: mah && "value" in mah ? mah.value : null,
      landed: draft.volts.trim(),
      temperature_c: warmth && "value" in warmth ? warmth.value : null,
      note: draft.note.trim(),
      at: draft.hour ? hourOf(draft.hour, now).toISOString() : null,
      sure: false,
    },
  };
}

/** Whether anything was typed. */
export const saysSomething = (draft: Draft) => Object.values(draft).some((text) => text.trim() !== "");

const MINUTE_MS = 60_000;

/** The latest such hour: what is later than now was yesterday. */
export function hourOf(hour: string, now: Date): Date {
  const [h = 0, m = 0] = hour.split(":").map(Number);
  const at = new Date(now);
  at.setHours(h, m, 0, 0);
  if (at.getTime() > now.getTime() + MINUTE_MS) at.setDate(at.getDate() - 1);
  return at;
}

/** Hours of today that are said most: a press each. */
const AGO = [
  [15, "15 min"],
  [30, "30 min"],
  [60, "1 h"],
  [120, "2 h"],
] as const;

type Props = { draft: Draft; onChange: (draft: Draft) => void };

export function RunDetails({ draft, onChange }: Props) {
  const p = usePreferences();
  const set = (next: Partial<Draft>) => onChange({ ...draft, ...next });
  return (
    <>
      <div className="mt-2 grid grid-cols-2 gap-3">
        <Field label="Landed at, volts" value={draft.volts} onChange={(volts) => set({ volts })} />
        <Field label="Used or put back, mAh" value={draft.mah} onChange={(mah) => set({ mah })} />
        <Field
          label={`Pack after it, ${unitOf("temperature", p)}`}
          value={draft.warmth}
          onChange={(warmth) => set({ warmth })}
        />
        <div className="grid text-small text-ink-faint">
          <label htmlFor="run-hour">Landed when, if not now</label>
          <TimeField
            id="run-hour"
            label="Landed when"
            optional
            value={draft.hour}
            onChange={(hour) => set({ hour: hour ?? "" })}
          />
        </div>
      </div>
      <div className="mt-1 flex flex-wrap justify-end gap-x-3 text-small">
        {AGO.map(([minutes, words]) => (
          <button
            key={minutes}
            type="button"
            className="action min-h-8"
            onClick={() =>
              set({ hour: localMinute(new Date(Date.now() - minutes * MINUTE_MS)).slice(11, 16) })
            }
          >
            {words} ago
          </button>
        ))}
      </div>
      <div className="mt-2">
        <Field label="Note" words value={draft.note} onChange={(note) => set({ note })} />
      </div>
      <p className="mt-1 text-fine text-ink-faint">
        Volts at rest, some minutes after landing: of a cell, or of the whole pack. All of it can be left out.
      </p>
    </>
  );
}

type FieldProps = { label: string; value: string; onChange: (v: string) => void; words?: boolean };

export function Field({ label, value, onChange, words = false }: FieldProps) {
  return (
    <label className="grid text-small text-ink-faint">
      {label}
      <input
        inputMode={words ? "text" : "decimal"}
        autoComplete="off"
        maxLength={words ? 200 : undefined}
        className={`field w-full min-w-0 py-1.5 text-lead text-ink ${words ? "" : "number"}`}
        value={value}
        onChange={(e) => onChange(e.target.value)}
      />
    </label>
  );
}
