import { FIELD_TABLE } from "@/api/fields";
import type { Choices, GearKind } from "@/api/types";
import type { Kind } from "@/format/quantity";

type Common = { name: string; label: string; hint?: string; heading?: string };
/**
 * How a field of gear is asked: a number with its unit, words, one of a list, several of a list, or yes and
 * no.
 */
export type Field = Common &
  (
    | { as: "number"; kind: Kind; step: number; optional?: boolean }
    | { as: "words"; optional?: boolean; short?: boolean }
    | { as: "choice"; from: ChoiceList; empty?: string }
    | { as: "choices"; from: ChoiceList }
    | { as: "flag" }
  );
export type ChoiceList =
  | "chemistries"
  | "plugs"
  | "output_plugs"
  | "balance_plugs"
  | "piece_kinds"
  | "halves"
  | "supply_kinds"
  | "contact_shapes";

export function listOf(choices: Choices | undefined, from: ChoiceList) {
  if (from === "halves")
    return [
      { id: "pack", name: "the half that packs carry", note: "" },
      { id: "device", name: "the half that models carry", note: "" },
    ];
  if (from === "supply_kinds")
    return [
      { id: "mains", name: "mains supply", note: "" },
      { id: "battery", name: "battery", note: "" },
    ];
  return choices?.[from] ?? [];
}

type Column = { name: string; label: string; kind?: Kind; from?: ChoiceList; suffix?: string; flag?: string };
/** Headings, and the fields under each; what a field asks is core's to say. */
type Layout = [heading: string, names: string[]][];
type Words = { one: string; add: string; many: string; about: string; columns: Column[] };
type Laid = Words & { layout: Layout; start?: Record<string, unknown> };
/** A kind of gear: its words, the columns of its list, its fields, and what a new one starts with. */
export type GearSpec = Words & { fields: Field[]; start: Record<string, unknown> };

const label = [
  "name",
  "chemistry",
  "series",
  "parallel",
  "capacity_ah",
  "label_c",
  "label_burst_c",
  "charge_c",
  "hard_case",
];
const measured = ["mass_g", "length_mm", "width_mm", "height_mm", "cell_mohm", "price"];
const leads = ["plug", "balance_plug", "lead_awg", "lead_length_mm", "plug_half"];
/** A pack's fields as they are laid out: a heading, and what stands under it. */
const PACK: Layout = [
  ["From the label", label],
  ["By scale, rule and meter", measured],
  ["Plugs and leads", leads],
];
/** Nobody gave these yet: they ask, and refuse nothing. */
const PACK_START = { chemistry: "lipo", assumed: ["plug", "lead_awg"] };

const PACK_COLUMNS: Column[] = [
  { name: "name", label: "Name" },
  { name: "series", label: "Cells", suffix: "S" },
  { name: "capacity_ah", label: "Capacity", kind: "capacity" },
  { name: "chemistry", label: "Chemistry", from: "chemistries" },
  { name: "label_c", label: "Label", kind: "c_rate" },
  { name: "mass_g", label: "Mass", kind: "mass" },
  { name: "plug", label: "Plug", from: "plugs" },
];

const LAYOUTS: Record<GearKind, Laid> = {
  packs: {
    one: "pack",
    add: "Add a pack",
    many: "Packs",
    about: "What is in your box. An unfit pack is neither charged nor offered.",
    columns: [{ name: "tag", label: "Tag" }, ...PACK_COLUMNS, { name: "note", label: "Note" }],
    layout: [["", ["tag"]], ...PACK, ["Its state", ["fit", "unknown_past"]], ["", ["note"]]],
    start: PACK_START,
  },
  models: {
    one: "model",
    add: "Add a model",
    many: "Models",
    about: "What you fly, drive and sail. Draw, wishes and limits of each are set in Size.",
    columns: [
      { name: "name", label: "Name" },
      { name: "description", label: "What it is" },
    ],
    layout: [["", ["name", "description"]]],
  },
  chargers: {
    one: "charger",
    add: "Add a charger",
    many: "Chargers",
    about: "By their sheets. Watts are those that reach the packs.",
    columns: [
      { name: "name", label: "Name" },
      { name: "ports", label: "Ports" },
      { name: "series_max", label: "Up to", suffix: "S" },
      { name: "port_a", label: "A port", kind: "current" },
      { name: "port_w", label: "A port", kind: "power" },
      { name: "mains_w", label: "On mains", kind: "power" },
      { name: "dc_w", label: "On DC", kind: "power" },
      { name: "note", label: "Note" },
    ],
    layout: [
      ["", ["name", "chemistries"]],
      ["Cells", ["series_min", "series_max", "nimh_cells_max"]],
      ["Each port", ["ports", "port_a", "port_w", "step_a", "output_plug", "by_balance"]],
      ["Fed by", ["mains_w", "dc_w", "dc_min_v", "dc_max_v"]],
      ["Balancing and storage", ["balance_families", "balance_a", "discharge_w", "storage_cap_a"]],
      ["", ["note"]],
    ],
    start: { chemistries: ["lipo"] },
  },
  supplies: {
    one: "supply",
    add: "Add a supply",
    many: "Supplies",
    about: "What feeds a DC charger: a mains supply, a car battery, a power station.",
    columns: [
      { name: "name", label: "Name" },
      { name: "kind", label: "Kind", from: "supply_kinds" },
      { name: "voltage_v", label: "Gives", kind: "voltage" },
      { name: "power_w", label: "Up to", kind: "power" },
      { name: "energy_wh", label: "Holds", kind: "energy" },
    ],
    layout: [["", ["name", "kind", "voltage_v", "power_w", "energy_wh"]]],
  },
  pieces: {
    one: "adapter, lead or board",
    add: "Add one",
    many: "Leads and adapters",
    about: "What goes between plugs: adapters, charge leads, parallel boards, splitters, balance adapters.",
    columns: [
      { name: "name", label: "Name" },
      { name: "kind", label: "Kind", from: "piece_kinds" },
      { name: "pack_plug", label: "To the pack", from: "output_plugs" },
      { name: "device_plug", label: "To the device", from: "output_plugs" },
      { name: "awg", label: "Wire", kind: "gauge" },
      { name: "length_mm", label: "Length", kind: "length" },
    ],
    layout: [
      ["", ["name", "kind", "pack_plug", "pack_half", "device_plug", "device_half"]],
      ["What it carries", ["awg", "length_mm", "continuous_a"]],
      ["Balance side", ["balance_from", "balance_out", "balance_cells", "sockets", "count"]],
    ],
    start: { pack_plug: "xt60" },
  },
  plugs: {
    one: "plug",
    add: "Add a plug",
    many: "Plugs",
    about:
      "Plug families of your own, beside those that every list has: offered wherever a plug is asked. " +
      "One that something carries cannot be deleted.",
    columns: [
      { name: "name", label: "Name" },
      { name: "continuous_a", label: "Continuous", kind: "current" },
      { name: "burst_a", label: "Burst", kind: "current" },
      { name: "resistance_mohm", label: "A pair", kind: "resistance" },
      { name: "note", label: "Note" },
    ],
    layout: [
      ["", ["name"]],
      ["What a mated pair carries", ["continuous_a", "burst_a", "resistance_mohm"]],
      ["How it goes together", ["keyed", "wired_either_way", "alike", "spark_guard"]],
      ["Its neighbours", ["mates_with", "mistaken_for"]],
      [
        "How it looks from the front",
        ["contact_shape", "contact_mm", "apart_mm", "shell_width_mm", "shell_height_mm"],
      ],
      ["", ["note"]],
    ],
  },
  cells: {
    one: "cell type",
    add: "Add a cell type",
    many: "Cells",
    about:
      "Cylindrical cells by their data sheets, from which Size makes packs; typical ones if there are none.",
    columns: [
      { name: "name", label: "Name" },
      { name: "chemistry", label: "Chemistry", from: "chemistries" },
      { name: "capacity_ah", label: "Capacity", kind: "capacity" },
      { name: "continuous_a", label: "Continuous", kind: "current" },
      { name: "mass_g", label: "Mass", kind: "mass" },
      { name: "price", label: "Price", kind: "price" },
    ],
    layout: [
      ["", ["name", "chemistry", "capacity_ah", "mass_g", "diameter_mm", "length_mm"]],
      ["", ["continuous_a", "burst_a", "resistance_mohm", "price"]],
    ],
    start: { chemistry: "liion" },
  },
  catalogue: {
    one: "catalogue pack",
    add: "Add a pack",
    many: "Catalogue",
    about:
      "Packs that can be bought. Paste what a shop offers, and Size weighs it beside what you own; " +
      "where there is no choice, typical packs stand in, marked so.",
    columns: [
      ...PACK_COLUMNS,
      { name: "price", label: "Price", kind: "price" },
      { name: "shop", label: "On offer", flag: "offer" },
    ],
    layout: [...PACK, ["In the shop", ["offer", "shop"]]],
    start: PACK_START,
  },
};

export const KINDS = Object.keys(LAYOUTS) as GearKind[];
/** Each kind: its words and columns, its fields with their headings, and what a new one starts with. */
export const GEAR = Object.fromEntries(KINDS.map((kind) => [kind, specOf(kind)])) as Record<
  GearKind,
  GearSpec
>;

function specOf(kind: GearKind): GearSpec {
  const { layout, start, ...words } = LAYOUTS[kind];
  const laid = new Set(layout.flatMap(([, names]) => names));
  // what no layout names stands at the end
  const rest = Object.keys(FIELD_TABLE[kind].fields).filter((name) => !laid.has(name));
  const fields = [...layout, ["More", rest] as const].flatMap(([heading, names]) =>
    names.map((name, k) => withHeading(fieldOf(kind, name), k === 0 ? heading : "")),
  );
  return { ...words, fields, start: { ...FIELD_TABLE[kind].start, ...start } };
}

function fieldOf(kind: GearKind, name: string): Field {
  const all: Record<string, object> = FIELD_TABLE[kind].fields;
  return { name, ...all[name] } as Field;
}

function withHeading(field: Field, heading: string): Field {
  return heading ? { ...field, heading } : field;
}

export function isKind(kind: string): kind is GearKind {
  return kind in GEAR;
}
