import { useId, useRef, useState } from "react";
import { usePreferences } from "@/format/preferences";
import { type Kind, rounded, typed, unitOf, worded } from "@/format/quantity";
import { inWords } from "@/format/sentence";
import { useRed } from "@/parts/reds";

type Props = {
  label: string;
  kind: Kind;
  value: number | null;
  onChange: (value: number | null) => void;
  step: number;
  problem?: string | undefined;
  hint?: string | undefined;
  optional?: boolean;
  placeholder?: string;
  /** Nobody gave this figure: it is drawn dashed, and can be said to be so. */
  assumed?: (() => void) | undefined;
  /** Something to mind about it that refuses nothing. */
  mind?: string | undefined;
  /** The words that it was read from. */
  read?: string | undefined;
  /** It looks like a slip: the likely figure, and a press that says it is so. */
  asked?: Back | undefined;
};

/**
 * A number with its unit and steppers. What is typed stays as typed until it is a number, and stays when
 * the server refuses it; the sentence stands below the field it belongs to.
 */
export function NumberField(props: Props) {
  const { label, kind, value, onChange, step, problem, hint, optional = false, assumed, mind } = props;
  const preferences = usePreferences();
  const id = useId();
  const [draft, setDraft] = useState<string | undefined>();
  const [own, setOwn] = useState<Refused | undefined>();
  // presses may come faster than the changed value comes back
  const latest = useRef(value);
  const newest = useRef<string>(undefined);
  const given = useRef(value);
  if (given.current !== value) {
    given.current = value;
    latest.current = value;
  }
  const kept = value === null ? "" : typed(kind, value, preferences);
  const wrong = own?.problem || problem;
  const asked = own || problem || value === null ? undefined : props.asked;
  useRed(label, own !== undefined || asked !== undefined);
  // what was understood stands beside what was written otherwise
  const meant =
    draft !== undefined && !own && value !== null && !isPlain(draft)
      ? `→ ${worded(kind, value, preferences)}`
      : undefined;

  const take = (text: string) => {
    setDraft(text);
    if (text.trim() === "" && optional) {
      newest.current = undefined;
      setOwn(undefined);
      onChange(null);
      return;
    }
    newest.current = text;
    if (reading) settle(text, reading);
    else {
      setOwn(UNREAD);
      // a later key has been read, or will be
      loaded().then(
        (read) => newest.current === text && settle(text, read),
        () => setOwn({ problem: "Not read yet: there is no line to the computer. Type it again." }),
      );
    }
  };
  const settle = (text: string, read: Reading) => {
    const result = read(kind, text, preferences);
    setOwn("problem" in result ? result : undefined);
    if ("value" in result) onChange(result.value);
  };
  const stepBy = (direction: 1 | -1) => {
    // what was typed and understood has been taken
    const next = Math.max(
      rounded((latest.current ?? 0) + direction * step, 6),
      allowsNegative(kind) ? -1e6 : 0,
    );
    newest.current = undefined;
    setOwn(undefined);
    setDraft(undefined);
    latest.current = next;
    onChange(next);
  };
  return (
    <div className="py-0.5">
      <div className="group flex items-baseline justify-between gap-2">
        <label htmlFor={id} className="label min-w-0 shrink text-plain">
          {label}
        </label>
        <span className="flex items-baseline">
          {stepper(`Less: ${label}`, "−", () => stepBy(-1))}
          <input
            id={id}
            inputMode="decimal"
            autoComplete="off"
            className={`number min-h-6 border-b ${(draft?.length ?? 0) > 6 ? "w-28" : "w-[3.9rem]"}
              ${assumed ? "assumed" : "border-transparent"}
              bg-transparent px-0.5 text-right text-lead outline-none hover:border-rule-strong
              focus:border-fjord aria-[invalid=true]:border-alert`}
            value={draft ?? kept}
            placeholder={props.placeholder ?? (optional ? "any" : "")}
            aria-invalid={wrong || asked ? true : undefined}
            aria-describedby={
              wrong
                ? `${id}-wrong`
                : asked
                  ? `${id}-asked`
                  : meant || hint || mind || assumed || props.read
                    ? `${id}-hint`
                    : undefined
            }
            onChange={(e) => take(e.target.value)}
            onBlur={() => {
              if (!own) setDraft(undefined);
            }}
            onKeyDown={(e) => {
              if (e.key === "ArrowUp" || e.key === "ArrowDown") {
                e.preventDefault();
                stepBy(e.key === "ArrowUp" ? 1 : -1);
              }
            }}
          />
          <span className="unit w-9 text-left">{unitOf(kind, preferences)}</span>
          {stepper(`More: ${label}`, "+", () => stepBy(1))}
        </span>
      </div>
      {wrong ? (
        <p id={`${id}-wrong`} role="alert" className="text-small text-alert">
          {wrong}
          {own?.couldBe?.map((one) => (
            <button
              key={one}
              type="button"
              className="action ml-2 min-h-6"
              onClick={() => take(typed(kind, one, preferences))}
            >
              {typed(kind, one, preferences)} {unitOf(kind, preferences)}
            </button>
          ))}
        </p>
      ) : asked ? (
        <AskedBack
          id={`${id}-asked`}
          label={label}
          kind={kind}
          asked={asked}
          onMeant={() => take(typed(kind, asked.meant, preferences))}
        />
      ) : (
        (meant || hint || mind || assumed || props.read) && (
          <p id={`${id}-hint`} className="text-right text-fine leading-3.5 text-ink-faint">
            {meant && <span className="block font-medium text-ink-soft">{meant}</span>}
            {assumed && <Assumed label={label} onConfirm={assumed} />}
            {props.read && <ReadFrom words={props.read} />}
            {mind && <span className="block border-l-4 border-ink pl-2 text-left text-ink-soft">{mind}</span>}
            {hint}
          </p>
        )
      )}
    </div>
  );
}

/** A question back, the figure that was likely meant, and how one says that it is so. */
export type Back = { sentence: string; meant: number; onSure: () => void };

type AskedProps = { id: string; label: string; kind: Kind; asked: Back; onMeant: () => void };

function AskedBack({ id, label, kind, asked, onMeant }: AskedProps) {
  const p = usePreferences();
  return (
    <p id={id} role="alert" className="border-l-4 border-ink pl-2 text-small">
      {inWords(asked.sentence)}{" "}
      <button type="button" className="action mr-3 min-h-6" onClick={onMeant}>
        Yes, {worded(kind, asked.meant, p)}
      </button>
      <button
        type="button"
        className="action min-h-6"
        aria-label={`It is so: ${label}`}
        onClick={asked.onSure}
      >
        It is so
      </button>
    </p>
  );
}

/** The words of a label that a field was read from: a slip is seen beside it. */
export function ReadFrom({ words }: { words: string }) {
  return <span className="block">{words === "assumed" ? words : `read from “${words}”`}</span>;
}

/** Says that a figure is assumed, and takes it as said if it is right. */
export function Assumed({ label, onConfirm }: { label: string; onConfirm: () => void }) {
  return (
    <span className="block">
      assumed ·{" "}
      <button type="button" className="action min-h-6" aria-label={`${label}: it is so`} onClick={onConfirm}>
        it is so
      </button>
    </span>
  );
}

type Reading = typeof import("@/format/parse")["parsed"];
/** The grammar of figures comes when it is needed first, and is at hand on a page at rest. */
let reading: Reading | undefined;
const loaded = async (): Promise<Reading> => {
  reading = (await import("@/format/parse")).parsed;
  return reading;
};
/** Nothing is wrong with it, and nothing may be saved before it is read. */
const UNREAD: Refused = { problem: "" };

type Refused = { problem: string; couldBe?: number[] };

/** A figure as the field itself would write it, but for a decimal comma. */
function isPlain(text: string): boolean {
  return /^[-−]?\d*[.,]?\d{0,2}$/.test(text.trim());
}

function allowsNegative(kind: Kind): boolean {
  return kind === "temperature" || kind === "length";
}

/** A button of the field, and no component of its own: there are two for each number on a screen. */
function stepper(name: string, sign: string, onPress: () => void) {
  return (
    <button
      type="button"
      tabIndex={-1}
      aria-label={name}
      className="number h-6 w-4 text-ink-faint opacity-0 hover:text-fjord group-focus-within:opacity-100
        group-hover:opacity-100 pointer-coarse:w-6 pointer-coarse:opacity-100"
      onClick={onPress}
    >
      {sign}
    </button>
  );
}
