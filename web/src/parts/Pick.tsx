import { useCombobox } from "downshift";
import { useMemo, useState } from "react";
import { finder } from "@/parts/finder";

export type Option = { id: string; name: string; hint?: string | undefined };
type Props = {
  label: string;
  options: readonly Option[];
  onPick: (id: string) => void;
  /** What is chosen; without it the field empties itself after each choice. */
  value?: string | undefined;
  placeholder?: string;
  className?: string;
};

const MOST_SHOWN = 40;

/** One of many: a field to type into, with what fits below it. Typing narrows; Enter or a press chooses. */
export function Pick({ label, options, onPick, value, placeholder = "", className = "" }: Props) {
  const [words, setWords] = useState<string>();
  const chosen = options.find((o) => o.id === value);
  const fitting = useMemo(() => {
    const fits = finder(words ?? "");
    return options.filter((o) => fits(`${o.name} ${o.hint ?? ""}`));
  }, [options, words]);
  const found = fitting.slice(0, MOST_SHOWN);
  const types = useCombobox.stateChangeTypes;
  const combo = useCombobox<Option>({
    items: found,
    itemToString: (option) => option?.name ?? "",
    itemToKey: (option) => option?.id,
    inputValue: words ?? chosen?.name ?? "",
    selectedItem: null,
    // the first that fits is what Enter takes
    defaultHighlightedIndex: 0,
    stateReducer: (_, { type, changes }) =>
      // leaving the field chooses nothing
      type === types.InputBlur ? { ...changes, selectedItem: null, inputValue: "" } : changes,
    onStateChange: ({ type, selectedItem }) => {
      if (selectedItem && (type === types.ItemClick || type === types.InputKeyDownEnter)) {
        setWords(undefined);
        onPick(selectedItem.id);
      } else if (type === types.InputBlur || type === types.InputKeyDownEscape) setWords(undefined);
    },
  });
  return (
    <div className={`relative ${className}`}>
      <input
        {...combo.getInputProps({
          "aria-label": label,
          "aria-labelledby": undefined,
          onChange: (event) => setWords(event.currentTarget.value),
          onFocus: (event) => event.currentTarget.select(),
        })}
        placeholder={placeholder}
        className="field w-full truncate py-1 pr-5"
      />
      <span aria-hidden="true" className="pointer-events-none absolute right-0.5 top-1 text-ink-faint">
        ▾
      </span>
      <ul
        {...combo.getMenuProps({ "aria-label": `${label}: all`, "aria-labelledby": undefined })}
        hidden={!combo.isOpen}
        className="absolute z-30 max-h-72 w-full min-w-60 overflow-y-auto border border-rule-strong bg-sheet
          py-1 text-plain font-normal"
      >
        {combo.isOpen &&
          found.map((option, index) => (
            <li
              key={option.id}
              {...combo.getItemProps({ item: option, index })}
              className="min-h-6 cursor-pointer px-3 py-1 aria-selected:bg-hollow"
            >
              <span className={option.id === value ? "font-bold" : ""}>{option.name}</span>
              {option.hint && <span className="ml-2 text-small text-ink-faint">{option.hint}</span>}
            </li>
          ))}
        {combo.isOpen && fitting.length > found.length && (
          <li aria-hidden="true" className="px-3 py-1 text-small text-ink-faint">
            and {fitting.length - found.length} more: type to narrow
          </li>
        )}
        {combo.isOpen && fitting.length === 0 && (
          <li aria-hidden="true" className="px-3 py-1 text-small text-ink-faint">
            Nothing is called so.
          </li>
        )}
      </ul>
    </div>
  );
}
