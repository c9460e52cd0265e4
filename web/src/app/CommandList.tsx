import { useQuery } from "@tanstack/react-query";
import { useNavigate, useParams } from "@tanstack/react-router";
import { useCombobox } from "downshift";
import { useMemo, useState } from "react";
import { type Command, useOffered } from "@/app/commands";
import { modelsQuery, ownedQuery } from "@/app/queries";
import { applyTheme } from "@/app/theme";
import { redo, undo, useSteps } from "@/app/undo";
import { useLastModel } from "@/app/useLastModel";
import { useWordsFound } from "@/app/useWordsFound";
import { goToWorld, worldQuery } from "@/app/world";
import { ownedId } from "@/format/packId";
import { CURRENCIES, type Preferences, setPreference, usePreferences } from "@/format/preferences";
import { finder } from "@/parts/finder";
import { Sheet } from "@/parts/Sheet";

type Props = { onClose: () => void; onHelp: () => void; onPhones: () => void };

export default function CommandList({ onClose, onHelp, onPhones }: Props) {
  return (
    <Sheet open onClose={onClose} title="Find or do" hideTitle>
      <List onClose={onClose} onHelp={onHelp} onPhones={onPhones} />
    </Sheet>
  );
}

function List({ onClose, onHelp, onPhones }: Props) {
  const commands = useCommands(onHelp, onPhones);
  const [words, setWords] = useState("");
  const last = useLastModel();
  const { model = last } = useParams({ strict: false });
  const said = useWordsFound(words, model);
  const found = useMemo(() => {
    const fits = finder(words);
    return [...commands.filter((c) => fits(`${c.name} ${c.hint ?? ""}`)), ...said].slice(0, MOST_SHOWN);
  }, [commands, words, said]);
  const combo = useCombobox<Command>({
    items: found,
    itemToString: (command) => command?.name ?? "",
    itemToKey: (command) => command?.id,
    inputValue: words,
    selectedItem: null,
    isOpen: true,
    defaultHighlightedIndex: 0,
    onSelectedItemChange: ({ selectedItem }) => {
      onClose();
      selectedItem?.run();
    },
  });
  return (
    <div>
      <input
        {...combo.getInputProps({
          "aria-label": "Find or do",
          "aria-labelledby": undefined,
          onChange: (event) => setWords(event.currentTarget.value),
        })}
        // biome-ignore lint/a11y/noAutofocus: the list was opened to type into it
        autoFocus
        placeholder="A model, a pack, a note, or what to do"
        className="w-full border-b bg-transparent px-5 py-3 text-lead outline-none placeholder:text-ink-faint"
      />
      <ul
        {...combo.getMenuProps({ "aria-label": "Commands", "aria-labelledby": undefined })}
        className="max-h-[60vh] overflow-y-auto py-1"
      >
        {found.map((command, index) => (
          <li
            key={command.id}
            {...combo.getItemProps({ item: command, index })}
            className="flex cursor-pointer justify-between gap-4 px-5 py-1.5 aria-selected:bg-hollow"
          >
            <span>{command.name}</span>
            <span className="text-small text-ink-faint">{command.hint}</span>
          </li>
        ))}
      </ul>
      {found.length === 0 && (
        <p className="px-5 py-3 text-ink-faint">
          Nothing is called “{words}”. Try a model’s name, or “night”.
        </p>
      )}
    </div>
  );
}

const MOST_SHOWN = 40;

const KINDS = [
  ["packs", "packs", "a pack, from its label or by hand"],
  ["models", "models", "a model"],
  ["chargers", "chargers", "a charger"],
  ["supplies", "supplies", "a power supply"],
  ["pieces", "adapters, leads and boards", "an adapter, charge lead or board"],
  ["plugs", "plugs of my own", "a plug of my own"],
  ["cells", "cell types", "a cell type"],
  ["catalogue", "the catalogue", "a pack to the catalogue"],
] as const;

function useCommands(onHelp: () => void, onPhones: () => void): Command[] {
  const navigate = useNavigate();
  const { data: models = [] } = useQuery(modelsQuery);
  const { data: packs = [] } = useQuery(ownedQuery);
  const last = useLastModel();
  const { model = last } = useParams({ strict: false });
  const offered = useOffered();
  const { data: world } = useQuery(worldQuery);
  const preferences = usePreferences();
  const { undoLabel, redoLabel } = useSteps();
  return useMemo(() => {
    const set = <K extends keyof Preferences>(key: K, value: Preferences[K], name: string): Command => ({
      id: `${key}-${value}`,
      name,
      ...(preferences[key] === value ? { hint: "now" } : {}),
      run: () => {
        setPreference(key, value);
        applyTheme();
      },
    });
    return [
      ...(undoLabel ? [{ id: "undo", name: `Undo: ${undoLabel}`, hint: "Ctrl Z", run: undo }] : []),
      ...(redoLabel ? [{ id: "redo", name: `Redo: ${redoLabel}`, hint: "Ctrl Shift Z", run: redo }] : []),
      ...offered,
      ...models.map((m) => ({
        id: `model-${m.slug}`,
        name: `Size for ${m.name}`,
        hint: m.description,
        run: () => void navigate({ to: "/size/$model", params: { model: m.slug } }),
      })),
      ...models.map((m) => ({
        id: `match-${m.slug}`,
        name: `Match for ${m.name}`,
        hint: m.description,
        run: () => void navigate({ to: "/match/$model", params: { model: m.slug } }),
      })),
      ...KINDS.map(([kind, many]) => ({
        id: `gear-${kind}`,
        name: `My gear: ${many}`,
        run: () => void navigate({ to: "/gear/$kind", params: { kind } }),
      })),
      {
        id: "offers",
        name: "Paste offers of a shop",
        run: () =>
          void navigate({ to: "/gear/$kind", params: { kind: "catalogue" }, search: { offers: true } }),
      },
      { id: "add-model", name: "Add a model", run: () => void navigate({ to: "/new" }) },
      { id: "box", name: "The box: what serves what, what to buy", run: () => void navigate({ to: "/box" }) },
      {
        id: "practice",
        name: "Practice: tasks to learn by",
        hint: "6",
        run: () => void navigate({ to: "/practice" }),
      },
      {
        id: "practice-sheet",
        name: "Practice sheets and courses, for instructors",
        run: () => void navigate({ to: "/practice", search: { sheet: true } }),
      },
      { id: "plugs", name: "Which plug is this?", run: () => void navigate({ to: "/plugs" }) },
      {
        id: "add-equipment",
        name: "Add a radio, a receiver, a tool",
        run: () => void navigate({ to: "/new-equipment" }),
      },
      ...KINDS.filter(([kind]) => kind !== "models").map(([kind, , one]) => ({
        id: `add-${kind}`,
        name: `Add ${one}`,
        run: () => void navigate({ to: "/gear/$kind", params: { kind }, search: { edit: "new" as const } }),
      })),
      {
        id: "files",
        name: "Import or export gear (CSV, JSON)",
        run: () => void navigate({ to: "/gear/$kind", params: { kind: "packs" }, search: { files: true } }),
      },
      ...packs.map((pack) => ({
        id: `keep-${pack.id}`,
        name: `Page of ${pack.tag} ${pack.name}`,
        hint: "health, notes, storage",
        run: () => void navigate({ to: "/keep/$model", params: { model }, search: { pack: pack.tag } }),
      })),
      ...packs.map((pack) => ({
        id: `pack-${pack.id}`,
        name: `Match ${pack.tag} ${pack.name}`,
        hint: pack.note || "pack",
        run: () =>
          void navigate({ to: "/match/$model", params: { model }, search: { pack: ownedId(pack.tag) } }),
      })),
      set("theme", "day", "Day theme"),
      set("theme", "night", "Night theme"),
      set("theme", "system", "Theme as the system has it"),
      set("mass", "g", "Mass in grams"),
      set("mass", "oz", "Mass in ounces"),
      set("length", "mm", "Lengths in millimetres"),
      set("length", "in", "Lengths in inches"),
      set("temperature", "C", "Temperatures in °C"),
      set("temperature", "F", "Temperatures in °F"),
      set("time", "24", "Times as 14:30"),
      set("time", "12", "Times as 2:30 pm"),
      ...CURRENCIES.map((sign) => set("currency", sign, `Prices in ${sign}`)),
      {
        id: "rules",
        name: "House rules",
        hint: "every rule, why it exists, who differs",
        run: () => void navigate({ to: "/rules" }),
      },
      {
        id: "tags",
        name: "Tags for packs, to print",
        run: () => void navigate({ to: "/tags" }),
      },
      {
        id: "safety",
        name: "Safety, and what to do if a pack burns",
        run: () => void navigate({ to: "/safety" }),
      },
      world?.world === "demo"
        ? { id: "own", name: "Leave the demo: my own world", run: () => void goToWorld("own") }
        : {
            id: "demo",
            name: "Look around in the club’s world, the demo",
            run: () => void goToWorld("demo"),
          },
      {
        id: "phones",
        name: "Bring a phone",
        hint: "a code to scan, and which may come in",
        run: onPhones,
      },
      { id: "help", name: "Help, keys and words", hint: "?", run: onHelp },
      { id: "api", name: "The API’s documentation", run: () => window.location.assign("/api/docs") },
    ];
  }, [models, packs, model, offered, preferences, navigate, onHelp, onPhones, world, undoLabel, redoLabel]);
}
