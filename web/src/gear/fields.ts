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
  | "supply_kinds";

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
/** A kind of gear: its words, the columns of its list, its fields, and what a new one starts with. */
export type GearSpec = {
  one: string;
  add: string;
  many: string;
  about: string;
  columns: Column[];
  fields: Field[];
  start: Record<string, unknown>;
};

const number = (
  name: string,
  label: string,
  kind: Kind,
  step: number,
  more: { optional?: boolean; hint?: string; heading?: string } = {},
): Field => ({ as: "number", name, label, kind, step, ...more });

const maybe = { optional: true };

const PACK_FIELDS: Field[] = [
  { as: "words", name: "name", label: "Name", heading: "From the label" },
  { as: "choice", name: "chemistry", label: "Chemistry", from: "chemistries" },
  number("series", "Cells in series", "count", 1),
  number("parallel", "Strings in parallel", "count", 1),
  number("capacity_ah", "Capacity", "capacity", 100),
  number("label_c", "Continuous C", "c_rate", 5, maybe),
  number("label_burst_c", "Burst C", "c_rate", 5, maybe),
  number("charge_c", "Charge C", "c_rate", 1, maybe),
  number("mass_g", "Mass", "mass", 5, {
    ...maybe,
    heading: "By scale, rule and meter",
    hint: "left empty, a typical one is assumed",
  }),
  number("length_mm", "Length", "length", 1, maybe),
  number("width_mm", "Width", "length", 1, maybe),
  number("height_mm", "Height", "length", 1, maybe),
  number("cell_resistance_mohm", "Resistance of a cell", "resistance", 0.1, maybe),
  number("price", "Price", "price", 1, maybe),
  { as: "choice", name: "plug", label: "Main plug", from: "plugs", heading: "Plugs and leads" },
  {
    as: "choice",
    name: "balance_plug",
    label: "Balance plug",
    from: "balance_plugs",
    empty: "the usual one",
  },
  number("lead_awg", "Leads", "gauge", 1),
  number("lead_length_mm", "Length of the leads", "length", 5),
  { as: "choice", name: "plug_half", label: "Half of the plug", from: "halves" },
];

const PACK_START = {
  name: "",
  chemistry: "lipo",
  series: null,
  parallel: 1,
  capacity_ah: null,
  mass_g: null,
  length_mm: null,
  width_mm: null,
  height_mm: null,
  label_c: null,
  label_burst_c: null,
  charge_c: null,
  cell_resistance_mohm: null,
  plug: "xt60",
  lead_awg: 14,
  lead_length_mm: 100,
  price: null,
  plug_half: "pack",
  balance_plug: "",
  // nobody gave these yet: they ask, and refuse nothing
  assumed: ["plug", "lead_awg"],
};

const PACK_COLUMNS: Column[] = [
  { name: "name", label: "Name" },
  { name: "series", label: "Cells", suffix: "S" },
  { name: "capacity_ah", label: "Capacity", kind: "capacity" },
  { name: "chemistry", label: "Chemistry", from: "chemistries" },
  { name: "label_c", label: "Label", kind: "c_rate" },
  { name: "mass_g", label: "Mass", kind: "mass" },
  { name: "plug", label: "Plug", from: "plugs" },
];

export const GEAR: Record<GearKind, GearSpec> = {
  packs: {
    one: "pack",
    add: "Add a pack",
    many: "Packs",
    about: "What is in your box. An unfit pack is neither charged nor offered.",
    columns: [{ name: "tag", label: "Tag" }, ...PACK_COLUMNS, { name: "note", label: "Note" }],
    fields: [
      {
        as: "words",
        name: "tag",
        label: "Tag",
        optional: true,
        short: true,
        hint: "as written on the pack; left empty it gets the next number",
      },
      ...PACK_FIELDS,
      { as: "flag", name: "fit", label: "Fit to be charged and run", heading: "Its state" },
      { as: "words", name: "note", label: "Note", optional: true },
    ],
    start: { tag: "", ...PACK_START, fit: true, note: "" },
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
    fields: [
      { as: "words", name: "name", label: "Name" },
      { as: "words", name: "description", label: "What it is", optional: true },
    ],
    start: { name: "", description: "" },
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
    fields: [
      { as: "words", name: "name", label: "Name" },
      { as: "choices", name: "chemistries", label: "Chemistries", from: "chemistries" },
      number("series_min", "Fewest cells in series", "count", 1, { heading: "Cells" }),
      number("series_max", "Most cells in series", "count", 1),
      number("nimh_cells_max", "Most NiMH cells", "count", 1),
      number("ports", "Ports", "count", 1, { heading: "Each port" }),
      number("port_a", "Amps of a port", "current", 0.5),
      number("port_w", "Watts of a port", "power", 5, {
        ...maybe,
        hint: "left empty, it is assumed and asked",
      }),
      number("step_a", "Steps of the amps", "current", 0.05),
      { as: "choice", name: "output_plug", label: "Output", from: "output_plugs" },
      number("mains_w", "All ports, on mains", "power", 10, { ...maybe, heading: "Fed by" }),
      number("dc_w", "All ports, on DC", "power", 10, maybe),
      number("dc_min_v", "DC input, lowest", "voltage", 1, maybe),
      number("dc_max_v", "DC input, highest", "voltage", 1, maybe),
      {
        as: "choices",
        name: "balance_families",
        label: "Balance ports",
        from: "balance_plugs",
        heading: "Balancing and storage",
      },
      number("balance_a", "Balance current", "current", 0.1),
      number("discharge_w", "Discharges with", "power", 1, maybe),
      number("storage_cap_a", "Storage program, at most", "current", 0.5, maybe),
      { as: "words", name: "note", label: "Note", optional: true },
    ],
    start: {
      name: "",
      chemistries: ["lipo"],
      series_min: 1,
      series_max: null,
      nimh_cells_max: 0,
      ports: 1,
      port_a: null,
      port_w: null,
      step_a: 0.1,
      mains_w: null,
      dc_w: null,
      dc_min_v: null,
      dc_max_v: null,
      balance_families: ["xh"],
      balance_a: 0.3,
      output_plug: "banana_4",
      discharge_w: null,
      storage_cap_a: null,
      assumed: null,
      note: "",
    },
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
    fields: [
      { as: "words", name: "name", label: "Name" },
      { as: "choice", name: "kind", label: "Kind", from: "supply_kinds" },
      number("voltage_v", "Volts", "voltage", 0.5),
      number("power_w", "Watts", "power", 10),
      number("energy_wh", "Energy it holds", "energy", 50, { ...maybe, hint: "leave empty on the mains" }),
    ],
    start: { name: "", kind: "mains", voltage_v: null, power_w: null, energy_wh: null },
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
    fields: [
      { as: "words", name: "name", label: "Name" },
      { as: "choice", name: "kind", label: "Kind", from: "piece_kinds" },
      {
        as: "choice",
        name: "pack_plug",
        label: "Plug towards the pack",
        from: "output_plugs",
        empty: "none",
      },
      { as: "choice", name: "pack_half", label: "It is", from: "halves" },
      {
        as: "choice",
        name: "device_plug",
        label: "Plug towards the device",
        from: "output_plugs",
        empty: "none",
      },
      { as: "choice", name: "device_half", label: "It is", from: "halves" },
      number("awg", "Wire", "gauge", 1, {
        ...maybe,
        heading: "What it carries",
        hint: "it stands on the insulation; left empty, a thin one is assumed",
      }),
      number("length_mm", "Length", "length", 10),
      number("continuous_a", "Maker’s rating", "current", 1, { ...maybe, hint: "of a board: of one socket" }),
      {
        as: "choices",
        name: "balance_from",
        label: "Takes balance plugs",
        from: "balance_plugs",
        heading: "Balance side",
      },
      {
        as: "choice",
        name: "balance_out",
        label: "Brings them out as",
        from: "balance_plugs",
        empty: "none",
      },
      number("balance_cells", "Up to", "cells", 1),
      number("sockets", "Sockets", "count", 1),
      number("count", "How many there are", "count", 1, {
        ...maybe,
        hint: "left empty: enough; of a board: one",
      }),
    ],
    start: {
      name: "",
      kind: "adapter",
      pack_plug: "xt60",
      pack_half: "device",
      device_plug: "",
      device_half: "pack",
      awg: null,
      length_mm: 60,
      continuous_a: null,
      balance_from: [],
      balance_out: "",
      balance_cells: 0,
      assumed: null,
      sockets: 1,
      count: null,
    },
  },
  plugs: {
    one: "plug",
    add: "Add a plug",
    many: "Plugs",
    about:
      "Plug families of your own, beside those that every list has: offered wherever a plug is asked. One that something carries cannot be deleted.",
    columns: [
      { name: "name", label: "Name" },
      { name: "continuous_a", label: "Continuous", kind: "current" },
      { name: "burst_a", label: "Burst", kind: "current" },
      { name: "resistance_mohm", label: "A pair", kind: "resistance" },
      { name: "note", label: "Note" },
    ],
    fields: [
      { as: "words", name: "name", label: "Name" },
      number("continuous_a", "Continuous", "current", 5, { heading: "What a mated pair carries" }),
      number("burst_a", "For ten seconds", "current", 5, {
        ...maybe,
        hint: "left empty, no more than continuous",
      }),
      number("resistance_mohm", "Resistance, both poles", "resistance", 0.1, {
        ...maybe,
        hint: "left empty, as plugs of such amps mostly have",
      }),
      { as: "flag", name: "keyed", label: "Goes in one way only", heading: "How it goes together" },
      { as: "flag", name: "wired_either_way", label: "Sold with plus on either pin" },
      { as: "flag", name: "alike", label: "Both halves are alike" },
      { as: "flag", name: "spark_guard", label: "Has a spark guard" },
      {
        as: "choices",
        name: "mates_with",
        label: "Also goes into",
        from: "output_plugs",
        heading: "Its neighbours",
      },
      { as: "choices", name: "mistaken_for", label: "Is mistaken for", from: "output_plugs" },
      { as: "words", name: "note", label: "Note", optional: true },
    ],
    start: {
      name: "",
      code: "",
      continuous_a: null,
      burst_a: null,
      resistance_mohm: null,
      keyed: true,
      wired_either_way: false,
      alike: false,
      spark_guard: false,
      mates_with: [],
      mistaken_for: [],
      note: "",
    },
  },
  cells: {
    one: "cell type",
    add: "Add a cell type",
    many: "Cells",
    about:
      "Cylindrical cells by their data sheets, from which Size makes up packs; typical ones while there are none.",
    columns: [
      { name: "name", label: "Name" },
      { name: "chemistry", label: "Chemistry", from: "chemistries" },
      { name: "capacity_ah", label: "Capacity", kind: "capacity" },
      { name: "continuous_a", label: "Continuous", kind: "current" },
      { name: "mass_g", label: "Mass", kind: "mass" },
      { name: "price", label: "Price", kind: "price" },
    ],
    fields: [
      { as: "words", name: "name", label: "Name" },
      { as: "choice", name: "chemistry", label: "Chemistry", from: "chemistries" },
      number("capacity_ah", "Capacity", "capacity", 100),
      number("mass_g", "Mass", "mass", 1),
      number("diameter_mm", "Diameter", "length", 1),
      number("length_mm", "Length", "length", 1),
      number("continuous_a", "Continuous", "current", 1),
      number("burst_a", "Burst", "current", 1, maybe),
      number("resistance_mohm", "Resistance", "resistance", 1, maybe),
      number("price", "Price", "price", 1, maybe),
    ],
    start: {
      name: "",
      chemistry: "liion",
      capacity_ah: null,
      mass_g: null,
      diameter_mm: null,
      length_mm: null,
      continuous_a: null,
      burst_a: null,
      resistance_mohm: null,
      price: null,
    },
  },
  catalogue: {
    one: "catalogue pack",
    add: "Add a pack",
    many: "Catalogue",
    about:
      "Packs that can be bought. Paste what a shop offers, and Size weighs it beside what you own; where there is no choice, typical packs stand in, marked so.",
    columns: [
      ...PACK_COLUMNS,
      { name: "price", label: "Price", kind: "price" },
      { name: "shop", label: "On offer", flag: "offer" },
    ],
    fields: [
      ...PACK_FIELDS,
      { as: "flag", name: "offer", label: "On offer now: it goes when it is bought", heading: "In the shop" },
      { as: "words", name: "shop", label: "Shop", optional: true },
    ],
    start: { ...PACK_START, offer: false, shop: "" },
  },
};

export const KINDS = Object.keys(GEAR) as GearKind[];

export function isKind(kind: string): kind is GearKind {
  return kind in GEAR;
}
