"""Templates for lists of gear: a header in the form's words and rows that show what belongs in them."""

from __future__ import annotations

from typing import Any

from coldstack.server.gear.csv_cells import csv_out

Row = dict[str, Any]

_PACK_HEADER = {
    "name": "Name",
    "chemistry": "Chemistry",
    "series": "Cells in series",
    "parallel": "Strings in parallel",
    "capacity_ah": "Capacity (mAh)",
    "label_c": "Continuous C",
    "label_burst_c": "Burst C",
    "charge_c": "Charge C",
    "mass_g": "Mass (g)",
    "length_mm": "Length (mm)",
    "width_mm": "Width (mm)",
    "height_mm": "Height (mm)",
    "plug": "Main plug",
    "lead_awg": "Leads (AWG)",
    "price": "Price",
}
HEADERS: dict[str, dict[str, str]] = {
    "packs": {"tag": "Tag", **_PACK_HEADER, "note": "Note"},
    "catalogue": _PACK_HEADER,
    "cells": {
        "name": "Name",
        "chemistry": "Chemistry",
        "capacity_ah": "Capacity (mAh)",
        "mass_g": "Mass (g)",
        "diameter_mm": "Diameter (mm)",
        "length_mm": "Length (mm)",
        "continuous_a": "Continuous (A)",
        "burst_a": "Burst current (A)",
        "resistance_mohm": "Resistance (mohm)",
        "price": "Price",
    },
    "chargers": {
        "name": "Name",
        "chemistries": "Chemistries",
        "series_max": "Most cells in series",
        "nimh_cells_max": "nimh_cells_max",
        "ports": "Ports",
        "port_a": "Amps of a port",
        "port_w": "Watts of a port",
        "mains_w": "Mains watts",
        "dc_w": "DC watts",
        "balance_families": "balance_families",
        "output_plug": "output_plug",
    },
    "supplies": {
        "name": "Name",
        "kind": "Kind",
        "voltage_v": "Volts",
        "power_w": "Watts",
        "energy_wh": "Energy (Wh)",
    },
    "pieces": {
        "name": "Name",
        "kind": "Kind",
        "pack_plug": "pack_plug",
        "device_plug": "device_plug",
        "awg": "Gauge",
        "length_mm": "Length (mm)",
    },
    "plugs": {
        "name": "Name",
        "continuous_a": "Continuous (A)",
        "burst_a": "Burst current (A)",
        "resistance_mohm": "Resistance (mohm)",
        "mates_with": "mates_with",
        "mistaken_for": "mistaken_for",
    },
}
"""Columns of each template: the field, and what stands above it. Imports read either."""

EXAMPLES: dict[str, list[Row]] = {
    "packs": [
        {
            "tag": "A1",
            "name": "Hollin 3S 2200 35C",
            "chemistry": "LiPo",
            "series": 3,
            "parallel": 1,
            "capacity_ah": 2200,
            "label_c": 35,
            "label_burst_c": 70,
            "charge_c": 2,
            "mass_g": 188,
            "length_mm": 105,
            "width_mm": 34,
            "height_mm": 25,
            "plug": "XT60",
            "lead_awg": 14,
            "price": 19.95,
            "note": "for the trainer",
        },
        {
            "tag": "A2",
            "name": "Tarnlight 1S 300",
            "chemistry": "LiHV",
            "series": 1,
            "parallel": 1,
            "capacity_ah": 300,
            "label_c": 30,
            "mass_g": 8,
            "plug": "PH 2.0",
        },
    ],
    "catalogue": [
        {
            "name": "Fellside 5S 3900 40C",
            "chemistry": "LiPo",
            "series": 5,
            "parallel": 1,
            "capacity_ah": 3900,
            "label_c": 40,
            "label_burst_c": 80,
            "charge_c": 3,
            "mass_g": 520,
            "plug": "XT90",
            "price": 61.5,
        },
    ],
    "cells": [
        {
            "name": "Hollin 21700 4200",
            "chemistry": "Li-ion",
            "capacity_ah": 4200,
            "mass_g": 69,
            "diameter_mm": 21.4,
            "length_mm": 70.2,
            "continuous_a": 35,
            "resistance_mohm": 12,
            "price": 6.9,
        },
    ],
    "chargers": [
        {
            "name": "Cairn Two",
            "chemistries": "LiPo LiHV NiMH",
            "series_max": 6,
            "nimh_cells_max": 15,
            "ports": 2,
            "port_a": 10,
            "port_w": 100,
            "mains_w": 150,
            "balance_families": "xh",
            "output_plug": "XT60",
        },
    ],
    "supplies": [
        {"name": "Car battery", "kind": "battery", "voltage_v": 12.5, "power_w": 180, "energy_wh": 480}
    ],
    "pieces": [
        {
            "name": "Charge lead XT60",
            "kind": "lead",
            "pack_plug": "XT60",
            "device_plug": "4 mm banana",
            "awg": 14,
            "length_mm": 300,
        }
    ],
    "plugs": [
        {
            "name": "Dock plug",
            "continuous_a": 25,
            "burst_a": 45,
            "resistance_mohm": 1.1,
            "mates_with": "T-plug",
            "mistaken_for": "EC3",
        }
    ],
}
"""Made-up rows as a person would write them. The first of each also stands in for a row's wrong figures
while the right ones are checked."""


def template_text(kind_id: str) -> str:
    """The template of a kind as CSV."""
    header = HEADERS[kind_id]
    return csv_out(list(header.values()), ([row.get(field) for field in header] for row in EXAMPLES[kind_id]))
