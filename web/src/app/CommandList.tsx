import { useQuery } from "@tanstack/react-query";
import { useNavigate, useParams } from "@tanstack/react-router";
import { useMemo, useState } from "react";
import { type Command, useOffered } from "@/app/commands";
import { modelsQuery, ownedQuery } from "@/app/queries";
import { applyTheme } from "@/app/theme";
import { useLastModel } from "@/app/useLastModel";
import { goToWorld, worldQuery } from "@/app/world";
import { ownedId } from "@/format/packId";
import { type Preferences, setPreference, usePreferences } from "@/format/preferences";
import { Sheet } from "@/ui/Sheet";

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
  const [at, setAt] = useState(0);
  const found = useMemo(() => matching(commands, words), [commands, words]);
  const active = Math.min(at, Math.max(found.length - 1, 0));
  const run = (command: Command | undefined) => {
    if (!command) return;
    onClose();
    command.run();
  };
  return (
    <div>
      <input
        // biome-ignore lint/a11y/noAutofocus: the list was opened to type into it
        autoFocus
        role="combobox"
        aria-label="Find or do"
        aria-expanded="true"
        aria-controls="command-list"
        aria-activedescendant={found[active] ? `command-${found[active].id}` : undefined}
        placeholder="A model, a pack, or what to do"
        className="w-full border-b bg-transparent px-5 py-3 text-lead outline-none placeholder:text-ink-faint"
        value={words}
        onChange={(e) => {
          setWords(e.target.value);
          setAt(0);
        }}
        onKeyDown={(e) => {
          if (e.key === "ArrowDown") setAt(Math.min(active + 1, found.length - 1));
          else if (e.key === "ArrowUp") setAt(Math.max(active - 1, 0));
          else if (e.key === "Enter") run(found[active]);
          else return;
          e.preventDefault();
        }}
      />
      <div
        id="command-list"
        role="listbox"
        aria-label="Commands"
        className="max-h-[60vh] overflow-y-auto py-1"
      >
        {found.map((command, i) => (
          <div
            key={command.id}
            id={`command-${command.id}`}
            role="option"
            tabIndex={-1}
            aria-selected={i === active}
            className="flex cursor-pointer justify-between gap-4 px-5 py-1.5 aria-selected:bg-hollow"
            onPointerMove={() => setAt(i)}
            onClick={() => run(command)}
            onKeyDown={() => undefined}
          >
            <span>{command.name}</span>
            <span className="text-small text-ink-faint">{command.hint}</span>
          </div>
        ))}
        {found.length === 0 && (
          <p className="px-5 py-3 text-ink-faint">
            Nothing is called “{words}”. Try a model’s name, or “night”.
          </p>
        )}
      </div>
    </div>
  );
}

function matching(commands: Command[], words: string): Command[] {
  const parts = words.toLowerCase().split(/\s+/).filter(Boolean);
  return commands
    .filter((c) => parts.every((p) => `${c.name} ${c.hint ?? ""}`.toLowerCase().includes(p)))
    .slice(0, 40);
}

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
  }, [models, packs, model, offered, preferences, navigate, onHelp, onPhones, world]);
}
