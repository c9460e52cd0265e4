// Made from core's fields by `make types`: change them there.
export const FIELD_TABLE = {
 "plugs": {
  "fields": {
   "name": {
    "label": "Name",
    "as": "words"
   },
   "continuous_a": {
    "label": "Continuous",
    "as": "number",
    "kind": "current",
    "step": 5
   },
   "burst_a": {
    "label": "For ten seconds",
    "as": "number",
    "kind": "current",
    "step": 5,
    "optional": true,
    "hint": "left empty, no more than continuous"
   },
   "resistance_mohm": {
    "label": "Resistance, both poles",
    "as": "number",
    "kind": "resistance",
    "step": 0.1,
    "optional": true,
    "hint": "left empty, as plugs of such amps mostly have"
   },
   "keyed": {
    "label": "Goes in one way only",
    "as": "flag"
   },
   "wired_either_way": {
    "label": "Sold with plus on either pin",
    "as": "flag"
   },
   "spark_guard": {
    "label": "Has a spark guard",
    "as": "flag"
   },
   "alike": {
    "label": "Both halves are alike",
    "as": "flag"
   },
   "mates_with": {
    "label": "Also goes into",
    "as": "choices",
    "from": "output_plugs"
   },
   "mistaken_for": {
    "label": "Is mistaken for",
    "as": "choices",
    "from": "output_plugs"
   },
   "contact_shape": {
    "label": "Its contacts",
    "as": "choice",
    "from": "contact_shapes",
    "empty": "nobody looked"
   },
   "contact_mm": {
    "label": "Width of a contact",
    "as": "number",
    "kind": "length",
    "step": 0.1,
    "optional": true
   },
   "apart_mm": {
    "label": "Between their middles",
    "as": "number",
    "kind": "length",
    "step": 0.1,
    "optional": true,
    "hint": "left empty: each pole has its own"
   },
   "shell_width_mm": {
    "label": "Width of the shell",
    "as": "number",
    "kind": "length",
    "step": 0.1,
    "optional": true
   },
   "shell_height_mm": {
    "label": "Height of the shell",
    "as": "number",
    "kind": "length",
    "step": 0.1,
    "optional": true
   },
   "note": {
    "label": "Note",
    "as": "words",
    "optional": true
   }
  },
  "start": {
   "name": "",
   "continuous_a": null,
   "burst_a": null,
   "resistance_mohm": null,
   "keyed": true,
   "wired_either_way": false,
   "spark_guard": false,
   "alike": false,
   "mates_with": [],
   "mistaken_for": [],
   "contact_shape": "",
   "contact_mm": null,
   "apart_mm": null,
   "shell_width_mm": null,
   "shell_height_mm": null,
   "code": "",
   "note": ""
  }
 },
 "packs": {
  "fields": {
   "name": {
    "label": "Name",
    "as": "words"
   },
   "chemistry": {
    "label": "Chemistry",
    "as": "choice",
    "from": "chemistries"
   },
   "series": {
    "label": "Cells in series",
    "as": "number",
    "kind": "count",
    "step": 1.0
   },
   "capacity_ah": {
    "label": "Capacity",
    "as": "number",
    "kind": "capacity",
    "step": 100
   },
   "mass_g": {
    "label": "Mass",
    "as": "number",
    "kind": "mass",
    "step": 5,
    "optional": true,
    "hint": "left empty, a typical one is assumed"
   },
   "parallel": {
    "label": "Strings in parallel",
    "as": "number",
    "kind": "count",
    "step": 1.0
   },
   "length_mm": {
    "label": "Length",
    "as": "number",
    "kind": "length",
    "step": 1,
    "optional": true
   },
   "width_mm": {
    "label": "Width",
    "as": "number",
    "kind": "length",
    "step": 1,
    "optional": true
   },
   "height_mm": {
    "label": "Height",
    "as": "number",
    "kind": "length",
    "step": 1,
    "optional": true
   },
   "label_c": {
    "label": "Continuous C",
    "as": "number",
    "kind": "c_rate",
    "step": 5,
    "optional": true
   },
   "label_burst_c": {
    "label": "Burst C",
    "as": "number",
    "kind": "c_rate",
    "step": 5,
    "optional": true
   },
   "charge_c": {
    "label": "Charge C",
    "as": "number",
    "kind": "c_rate",
    "step": 1.0,
    "optional": true
   },
   "cell_mohm": {
    "label": "Resistance of a cell",
    "as": "number",
    "kind": "resistance",
    "step": 0.1,
    "optional": true
   },
   "plug": {
    "label": "Main plug",
    "as": "choice",
    "from": "plugs"
   },
   "lead_awg": {
    "label": "Leads",
    "as": "number",
    "kind": "gauge",
    "step": 1
   },
   "lead_length_mm": {
    "label": "Length of the leads",
    "as": "number",
    "kind": "length",
    "step": 5
   },
   "price": {
    "label": "Price",
    "as": "number",
    "kind": "price",
    "step": 1.0,
    "optional": true
   },
   "plug_half": {
    "label": "Half of the plug",
    "as": "choice",
    "from": "halves"
   },
   "balance_plug": {
    "label": "Balance plug",
    "as": "choice",
    "from": "balance_plugs",
    "empty": "the usual one"
   },
   "hard_case": {
    "label": "Hard case",
    "as": "flag"
   },
   "tag": {
    "label": "Tag",
    "as": "words",
    "optional": true,
    "short": true,
    "hint": "as written on the pack; left empty it gets the next number"
   },
   "fit": {
    "label": "Fit to be charged and run",
    "as": "flag"
   },
   "unknown_past": {
    "label": "Its past is unknown: lent, or bought used",
    "as": "flag"
   },
   "note": {
    "label": "Note",
    "as": "words",
    "optional": true
   }
  },
  "start": {
   "name": "",
   "chemistry": "",
   "series": null,
   "capacity_ah": null,
   "mass_g": null,
   "parallel": 1,
   "length_mm": null,
   "width_mm": null,
   "height_mm": null,
   "label_c": null,
   "label_burst_c": null,
   "charge_c": null,
   "cell_mohm": null,
   "plug": "xt60",
   "lead_awg": 14,
   "lead_length_mm": 100,
   "price": null,
   "plug_half": "pack",
   "balance_plug": "",
   "hard_case": false,
   "assumed": null,
   "tag": "",
   "fit": true,
   "unknown_past": false,
   "note": ""
  }
 },
 "models": {
  "fields": {
   "name": {
    "label": "Name",
    "as": "words"
   },
   "description": {
    "label": "What it is",
    "as": "words",
    "optional": true
   }
  },
  "start": {
   "name": "",
   "description": "",
   "slug": ""
  }
 },
 "chargers": {
  "fields": {
   "name": {
    "label": "Name",
    "as": "words"
   },
   "chemistries": {
    "label": "Chemistries",
    "as": "choices",
    "from": "chemistries"
   },
   "series_max": {
    "label": "Most cells in series",
    "as": "number",
    "kind": "count",
    "step": 1.0
   },
   "port_a": {
    "label": "Amps of a port",
    "as": "number",
    "kind": "current",
    "step": 0.5
   },
   "port_w": {
    "label": "Watts of a port",
    "as": "number",
    "kind": "power",
    "step": 5,
    "optional": true,
    "hint": "left empty, it is assumed and asked"
   },
   "series_min": {
    "label": "Fewest cells in series",
    "as": "number",
    "kind": "count",
    "step": 1.0
   },
   "nimh_cells_max": {
    "label": "Most NiMH cells",
    "as": "number",
    "kind": "count",
    "step": 1.0
   },
   "ports": {
    "label": "Ports",
    "as": "number",
    "kind": "count",
    "step": 1.0
   },
   "step_a": {
    "label": "Steps of the amps",
    "as": "number",
    "kind": "current",
    "step": 0.05
   },
   "mains_w": {
    "label": "All ports, on mains",
    "as": "number",
    "kind": "power",
    "step": 10,
    "optional": true
   },
   "dc_w": {
    "label": "All ports, on DC",
    "as": "number",
    "kind": "power",
    "step": 10,
    "optional": true
   },
   "dc_min_v": {
    "label": "DC input, lowest",
    "as": "number",
    "kind": "voltage",
    "step": 1.0,
    "optional": true
   },
   "dc_max_v": {
    "label": "DC input, highest",
    "as": "number",
    "kind": "voltage",
    "step": 1.0,
    "optional": true
   },
   "balance_families": {
    "label": "Balance ports",
    "as": "choices",
    "from": "balance_plugs"
   },
   "balance_a": {
    "label": "Balance current",
    "as": "number",
    "kind": "current",
    "step": 0.1
   },
   "output_plug": {
    "label": "Output",
    "as": "choice",
    "from": "output_plugs"
   },
   "by_balance": {
    "label": "Charges by the balance plug alone",
    "as": "flag"
   },
   "discharge_w": {
    "label": "Discharges with",
    "as": "number",
    "kind": "power",
    "step": 1.0,
    "optional": true
   },
   "storage_cap_a": {
    "label": "Storage program, at most",
    "as": "number",
    "kind": "current",
    "step": 0.5,
    "optional": true
   },
   "note": {
    "label": "Note",
    "as": "words",
    "optional": true
   }
  },
  "start": {
   "name": "",
   "chemistries": [],
   "series_max": null,
   "port_a": null,
   "port_w": null,
   "series_min": 1,
   "nimh_cells_max": 0,
   "ports": 1,
   "step_a": 0.1,
   "mains_w": null,
   "dc_w": null,
   "dc_min_v": null,
   "dc_max_v": null,
   "balance_families": [
    "xh"
   ],
   "balance_a": 0.3,
   "output_plug": "banana_4",
   "by_balance": false,
   "discharge_w": null,
   "storage_cap_a": null,
   "assumed": null,
   "note": ""
  }
 },
 "supplies": {
  "fields": {
   "name": {
    "label": "Name",
    "as": "words"
   },
   "kind": {
    "label": "Kind",
    "as": "choice",
    "from": "supply_kinds"
   },
   "voltage_v": {
    "label": "Volts",
    "as": "number",
    "kind": "voltage",
    "step": 0.5
   },
   "power_w": {
    "label": "Watts",
    "as": "number",
    "kind": "power",
    "step": 10
   },
   "energy_wh": {
    "label": "Energy it holds",
    "as": "number",
    "kind": "energy",
    "step": 50,
    "optional": true,
    "hint": "leave empty on the mains"
   }
  },
  "start": {
   "name": "",
   "kind": "mains",
   "voltage_v": null,
   "power_w": null,
   "energy_wh": null
  }
 },
 "pieces": {
  "fields": {
   "name": {
    "label": "Name",
    "as": "words"
   },
   "awg": {
    "label": "Wire",
    "as": "number",
    "kind": "gauge",
    "step": 1.0,
    "optional": true,
    "hint": "it stands on the insulation; left empty, a thin one is assumed"
   },
   "length_mm": {
    "label": "Length",
    "as": "number",
    "kind": "length",
    "step": 10
   },
   "continuous_a": {
    "label": "Maker’s rating",
    "as": "number",
    "kind": "current",
    "step": 1.0,
    "optional": true,
    "hint": "of a board: of one socket"
   },
   "kind": {
    "label": "Kind",
    "as": "choice",
    "from": "piece_kinds"
   },
   "balance_from": {
    "label": "Takes balance plugs",
    "as": "choices",
    "from": "balance_plugs"
   },
   "balance_out": {
    "label": "Brings them out as",
    "as": "choice",
    "from": "balance_plugs",
    "empty": "none"
   },
   "balance_cells": {
    "label": "Up to",
    "as": "number",
    "kind": "cells",
    "step": 1.0
   },
   "sockets": {
    "label": "Sockets",
    "as": "number",
    "kind": "count",
    "step": 1.0
   },
   "count": {
    "label": "How many there are",
    "as": "number",
    "kind": "count",
    "step": 1.0,
    "optional": true,
    "hint": "left empty: enough; of a board: one"
   },
   "pack_plug": {
    "label": "Plug towards the pack",
    "as": "choice",
    "from": "output_plugs",
    "empty": "none"
   },
   "pack_half": {
    "label": "It is",
    "as": "choice",
    "from": "halves"
   },
   "device_plug": {
    "label": "Plug towards the device",
    "as": "choice",
    "from": "output_plugs",
    "empty": "none"
   },
   "device_half": {
    "label": "It is",
    "as": "choice",
    "from": "halves"
   }
  },
  "start": {
   "name": "",
   "awg": null,
   "length_mm": 60.0,
   "continuous_a": null,
   "kind": "adapter",
   "balance_from": [],
   "balance_out": "",
   "balance_cells": 0,
   "sockets": 1,
   "assumed": null,
   "count": null,
   "pack_plug": "",
   "pack_half": "device",
   "device_plug": "",
   "device_half": "pack"
  }
 },
 "cells": {
  "fields": {
   "name": {
    "label": "Name",
    "as": "words"
   },
   "chemistry": {
    "label": "Chemistry",
    "as": "choice",
    "from": "chemistries"
   },
   "capacity_ah": {
    "label": "Capacity",
    "as": "number",
    "kind": "capacity",
    "step": 100
   },
   "mass_g": {
    "label": "Mass",
    "as": "number",
    "kind": "mass",
    "step": 1
   },
   "diameter_mm": {
    "label": "Diameter",
    "as": "number",
    "kind": "length",
    "step": 1
   },
   "length_mm": {
    "label": "Length",
    "as": "number",
    "kind": "length",
    "step": 1
   },
   "continuous_a": {
    "label": "Continuous",
    "as": "number",
    "kind": "current",
    "step": 1.0
   },
   "burst_a": {
    "label": "Burst",
    "as": "number",
    "kind": "current",
    "step": 1.0,
    "optional": true
   },
   "resistance_mohm": {
    "label": "Resistance",
    "as": "number",
    "kind": "resistance",
    "step": 1,
    "optional": true
   },
   "price": {
    "label": "Price",
    "as": "number",
    "kind": "price",
    "step": 1.0,
    "optional": true
   }
  },
  "start": {
   "name": "",
   "chemistry": "",
   "capacity_ah": null,
   "mass_g": null,
   "diameter_mm": null,
   "length_mm": null,
   "continuous_a": null,
   "burst_a": null,
   "resistance_mohm": null,
   "price": null
  }
 },
 "catalogue": {
  "fields": {
   "name": {
    "label": "Name",
    "as": "words"
   },
   "chemistry": {
    "label": "Chemistry",
    "as": "choice",
    "from": "chemistries"
   },
   "series": {
    "label": "Cells in series",
    "as": "number",
    "kind": "count",
    "step": 1.0
   },
   "capacity_ah": {
    "label": "Capacity",
    "as": "number",
    "kind": "capacity",
    "step": 100
   },
   "mass_g": {
    "label": "Mass",
    "as": "number",
    "kind": "mass",
    "step": 5,
    "optional": true,
    "hint": "left empty, a typical one is assumed"
   },
   "parallel": {
    "label": "Strings in parallel",
    "as": "number",
    "kind": "count",
    "step": 1.0
   },
   "length_mm": {
    "label": "Length",
    "as": "number",
    "kind": "length",
    "step": 1,
    "optional": true
   },
   "width_mm": {
    "label": "Width",
    "as": "number",
    "kind": "length",
    "step": 1,
    "optional": true
   },
   "height_mm": {
    "label": "Height",
    "as": "number",
    "kind": "length",
    "step": 1,
    "optional": true
   },
   "label_c": {
    "label": "Continuous C",
    "as": "number",
    "kind": "c_rate",
    "step": 5,
    "optional": true
   },
   "label_burst_c": {
    "label": "Burst C",
    "as": "number",
    "kind": "c_rate",
    "step": 5,
    "optional": true
   },
   "charge_c": {
    "label": "Charge C",
    "as": "number",
    "kind": "c_rate",
    "step": 1.0,
    "optional": true
   },
   "cell_mohm": {
    "label": "Resistance of a cell",
    "as": "number",
    "kind": "resistance",
    "step": 0.1,
    "optional": true
   },
   "plug": {
    "label": "Main plug",
    "as": "choice",
    "from": "plugs"
   },
   "lead_awg": {
    "label": "Leads",
    "as": "number",
    "kind": "gauge",
    "step": 1
   },
   "lead_length_mm": {
    "label": "Length of the leads",
    "as": "number",
    "kind": "length",
    "step": 5
   },
   "price": {
    "label": "Price",
    "as": "number",
    "kind": "price",
    "step": 1.0,
    "optional": true
   },
   "plug_half": {
    "label": "Half of the plug",
    "as": "choice",
    "from": "halves"
   },
   "balance_plug": {
    "label": "Balance plug",
    "as": "choice",
    "from": "balance_plugs",
    "empty": "the usual one"
   },
   "hard_case": {
    "label": "Hard case",
    "as": "flag"
   },
   "offer": {
    "label": "On offer now: it goes when it is bought",
    "as": "flag"
   },
   "shop": {
    "label": "Shop",
    "as": "words",
    "optional": true
   }
  },
  "start": {
   "name": "",
   "chemistry": "",
   "series": null,
   "capacity_ah": null,
   "mass_g": null,
   "parallel": 1,
   "length_mm": null,
   "width_mm": null,
   "height_mm": null,
   "label_c": null,
   "label_burst_c": null,
   "charge_c": null,
   "cell_mohm": null,
   "plug": "xt60",
   "lead_awg": 14,
   "lead_length_mm": 100,
   "price": null,
   "plug_half": "pack",
   "balance_plug": "",
   "hard_case": false,
   "assumed": null,
   "offer": false,
   "shop": ""
  }
 }
} as const;
