import { useState } from "react";
import { usePreferences } from "@/format/preferences";
import { dayTime, minutesOf, readTime } from "@/format/time";

type Props = {
  label: string;
  id?: string;
  /** As it is kept: "14:30"; empty where there is none. */
  value: string;
  /** Undefined where it was emptied, which only an optional one can be. */
  onChange: (time: string | undefined) => void;
  optional?: boolean;
  wrong?: boolean;
  describedBy?: string | undefined;
};

/**
 * A time of day, shown as its reader prefers and read as people write it. What is typed and is no time
 * stays, marked, and changes nothing.
 */
export function TimeField({ label, id, value, onChange, optional = false, wrong, describedBy }: Props) {
  const p = usePreferences();
  const [draft, setDraft] = useState<string | undefined>();
  const unread = draft !== undefined && readTime(draft) === undefined && !(optional && draft.trim() === "");
  const take = (text: string) => {
    setDraft(text);
    const time = readTime(text);
    if (time || (optional && text.trim() === "")) onChange(time);
  };
  return (
    <span className="relative">
      <input
        id={id}
        aria-label={id ? undefined : label}
        className="field w-24 py-0.5 font-medium"
        autoComplete="off"
        placeholder={p.time === "24" ? "14:30" : "2:30 pm"}
        value={draft ?? (value ? dayTime(minutesOf(value), p) : "")}
        aria-invalid={unread || wrong ? true : undefined}
        aria-describedby={unread ? `${id ?? label}-unread` : describedBy}
        onChange={(e) => take(e.target.value)}
        onBlur={() => !unread && setDraft(undefined)}
      />
      {unread && (
        <span
          id={`${id ?? label}-unread`}
          role="alert"
          className="absolute left-0 top-full z-10 w-44 bg-paper text-small text-alert"
        >
          A time is like {p.time === "24" ? "14:30" : "2:30 pm"}.
        </span>
      )}
    </span>
  );
}
