import { useId, useMemo, useState } from "react";

type Option = { id: string; name: string };
type Props = { label: string; placeholder: string; options: readonly Option[]; onPick: (id: string) => void };

const MOST_SHOWN = 12;

/** A field to type into, with those that fit below it. Typing only narrows; Enter or a press chooses. */
export function PickList({ label, placeholder, options, onPick }: Props) {
  const id = useId();
  const [words, setWords] = useState("");
  const [open, setOpen] = useState(false);
  const [at, setAt] = useState(0);
  const found = useMemo(() => {
    const parts = words.toLowerCase().split(/\s+/).filter(Boolean);
    return options.filter((o) => parts.every((w) => o.name.toLowerCase().includes(w))).slice(0, MOST_SHOWN);
  }, [options, words]);
  const active = Math.min(at, Math.max(found.length - 1, 0));
  const pick = (option: Option | undefined) => {
    if (!option) return;
    onPick(option.id);
    setWords("");
    setAt(0);
    setOpen(false);
  };
  return (
    <div className="relative w-full max-w-64">
      <input
        role="combobox"
        aria-label={label}
        aria-expanded={open && found.length > 0}
        aria-controls={`${id}-list`}
        aria-autocomplete="list"
        aria-activedescendant={open && found[active] ? `${id}-${found[active].id}` : undefined}
        autoComplete="off"
        placeholder={placeholder}
        className="field w-full py-1"
        value={words}
        onFocus={() => setOpen(true)}
        onClick={() => setOpen(true)}
        onBlur={() => setOpen(false)}
        onChange={(e) => {
          setWords(e.target.value);
          setAt(0);
          setOpen(true);
        }}
        onKeyDown={(e) => {
          if (e.key === "ArrowDown") {
            setOpen(true);
            setAt(Math.min(active + 1, found.length - 1));
          } else if (e.key === "ArrowUp") setAt(Math.max(active - 1, 0));
          else if (e.key === "Enter") pick(found[active]);
          else if (e.key === "Escape" && open) setOpen(false);
          else return;
          e.preventDefault();
        }}
      />
      <div
        id={`${id}-list`}
        role="listbox"
        aria-label={label}
        hidden={!open || found.length === 0}
        className="absolute z-30 max-h-72 w-full min-w-60 overflow-y-auto border border-rule-strong bg-sheet
          py-1"
      >
        {found.map((option, i) => (
          <div
            key={option.id}
            id={`${id}-${option.id}`}
            role="option"
            tabIndex={-1}
            aria-selected={i === active}
            className="min-h-6 cursor-pointer px-3 py-1 aria-selected:bg-hollow"
            onPointerMove={() => setAt(i)}
            // before the field loses the focus
            onPointerDown={(e) => {
              e.preventDefault();
              pick(option);
            }}
          >
            {option.name}
          </div>
        ))}
      </div>
    </div>
  );
}
