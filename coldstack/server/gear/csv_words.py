"""What people call the columns of their lists, and how their cells are meant: names, units and values in
any case."""

from __future__ import annotations

import re
import unicodedata
from dataclasses import dataclass
from functools import cache
from typing import Any

from coldstack.core.cells.chemistry import CHEMISTRIES
from coldstack.core.chain.plugs import plug_families
from coldstack.core.labels.figures import LEAST_LISTED_MAH
from coldstack.core.labels.names import read_chemistry, read_plugs
from coldstack.core.labels.text import Text
from coldstack.core.logs.numbers import number_of
from coldstack.server.gear.csv_cells import NONE
from coldstack.server.gear.kinds import KINDS, Kind

SIZE = "size"
"""A column that holds length, width and height in one."""
VOLTS = "volts"
"""A column of nominal volts, from which the cells are told where no column counts them."""
PSEUDO = (SIZE, VOLTS)
_WORDS: dict[str, str] = {
    "name": "label pack_name battery_name model_name product_name pack title model product battery "
    "bezeichnung nom nombre item type_label",
    "tag": "no nr number id sticker pack_no pack_nr pack_number nummer numero tag_no label_no",
    "chemistry": "chem chemie chimie type cell_chemistry battery_type kind",
    "series": "s cells no_cells no_of_cells s_count cell_count number_of_cells cells_in_series "
    "zellen in_series series_cells "
    "cells_s config configuration",
    "parallel": "p strings in_parallel parallel_strings strings_in_parallel",
    "capacity_ah": "capacity cap ah mah kapazitat kapazitaet capacite capacidad capacity_mah "
    "size_mah rated_capacity",
    "mass_g": "mass weight wt grams weight_in_grams mass_in_grams gewicht poids peso weight_g",
    "length_mm": "length l lange laenge longueur",
    "width_mm": "width w b breite largeur",
    "height_mm": "height h thickness hohe hoehe hauteur",
    VOLTS: "voltage nominal_voltage v nominal_v spannung tension pack_voltage nominal",
    SIZE: "size dimensions dims dimension lxwxh l_x_w_x_h abmessungen masse_mm size_mm",
    "label_c": "c c_rating rating continuous_c continuous_discharge discharge_c c_cont cont_c c_continuous "
    "discharge discharge_rate c_rate",
    "label_burst_c": "burst burst_c peak_c c_burst max_c",
    "charge_c": "charge charge_rate max_charge max_charge_c charging_c charge_c_rate",
    "cell_resistance_mohm": "ir resistance internal_resistance cell_resistance mohm innenwiderstand "
    "cell_ir resistance_of_a_cell",
    "plug": "connector main_plug stecker connecteur plug_type main_connector",
    "plug_half": "half half_of_the_plug",
    "balance_plug": "balance balancer balance_connector balance_lead",
    "lead_awg": "awg wire gauge leads lead wire_gauge",
    "lead_length_mm": "lead_length cable_length length_of_the_leads",
    "price": "cost purchase_price price_paid preis prix precio paid eur usd gbp",
    "fit": "ok usable fit_to_be_charged_and_run good in_use",
    "note": "notes comment comments remark remarks bemerkung bemerkungen info",
    "offer": "on_offer",
    "shop": "store seller vendor from_shop where",
    "diameter_mm": "diameter dia",
    "continuous_a": "continuous current continuous_current max_current amps rated_amps continuous_amps",
    "burst_a": "burst_current burst_amps peak_current",
    "resistance_mohm": "ir resistance internal_resistance mohm",
    "chemistries": "chemistry types",
    "series_max": "cells max_cells most_cells up_to_cells s_max most_cells_in_series",
    "series_min": "min_cells fewest_cells_in_series",
    "port_a": "amps max_current max_charge_current max_amps amps_of_a_port charge_amps charge_current",
    "ports": "channels outputs number_of_ports",
    "balance_a": "balance_current balancing_current",
    "port_w": "watts max_watts watts_of_a_port power",
    "mains_w": "mains mains_watts ac_watts ac",
    "dc_w": "dc dc_watts",
    "voltage_v": "volts voltage v",
    "power_w": "watts power w",
    "energy_wh": "energy wh",
    "awg": "gauge wire",
}
_UNITS: dict[str, dict[str, float]] = {
    "_ah": {"ah": 1.0, "mah": 1e-3},
    "_g": {
        "g": 1.0,
        "gr": 1.0,
        "gram": 1.0,
        "grams": 1.0,
        "kg": 1000.0,
        "oz": 28.3495,
        "lb": 453.592,
        "lbs": 453.592,
    },
    "_mm": {"mm": 1.0, "cm": 10.0, "in": 25.4, "inch": 25.4, "m": 1000.0},
    "_mohm": {"mohm": 1.0, "mω": 1.0, "ohm": 1000.0, "ω": 1000.0},
    "_a": {"a": 1.0, "amp": 1.0, "amps": 1.0, "ma": 1e-3},
    "_w": {"w": 1.0, "watt": 1.0, "watts": 1.0, "kw": 1000.0},
    "_v": {"v": 1.0, "volt": 1.0, "volts": 1.0, "mv": 1e-3},
    "_wh": {"wh": 1.0, "kwh": 1000.0},
    "_c": {"c": 1.0},
    "awg": {"awg": 1.0},
    "price": {
        "eur": 1.0,
        "€": 1.0,
        "usd": 1.0,
        "$": 1.0,
        "gbp": 1.0,
        "£": 1.0,
        "chf": 1.0,
        "sek": 1.0,
        "nok": 1.0,
        "dkk": 1.0,
    },
    VOLTS: {"v": 1.0, "volt": 1.0, "volts": 1.0},
    "series": {"s": 1.0, "cells": 1.0, "cell": 1.0},
    "parallel": {"p": 1.0},
}
_ALL_UNITS = frozenset(unit for units in _UNITS.values() for unit in units)
_EMPTY = frozenset({"", "-", "–", "—", "n/a", "na", "none", "?", "unknown", "null"})
_PLAIN = re.compile(r"^\d{1,6}(?:\.\d{1,2})?$")
"""A number that needs no looking at."""
_YES_NO = {
    "1": True,
    "true": True,
    "yes": True,
    "y": True,
    "ja": True,
    "oui": True,
    "x": True,
    "ok": True,
    "good": True,
    "fit": True,
}
_YES_NO |= {
    "0": False,
    "false": False,
    "no": False,
    "n": False,
    "nein": False,
    "non": False,
    "bad": False,
    "unfit": False,
}


@dataclass(frozen=True, slots=True)
class Column:
    """A column of a file: its header, the field it goes into (empty: it is left out), and the unit its
    header names."""

    header: str
    field: str
    unit: str = ""


def column_of(kind: Kind, header: str) -> Column:
    """The field that a header means, by its own name, the form's words or what people say; in any case."""
    text = re.sub(r"(?<=[a-z]{2})(?=[A-Z])", " ", header)
    bracket = re.search(r"[\[(]\s*([^\])\d]+?)\s*[\])]", text)
    own, bare = plain(text), plain(re.sub(r"[\[(].*?[\])]", " ", text))
    for key in (own, bare):
        if key in kind.fields:
            return Column(header, key, plain(bracket[1]) if bracket and key == bare else "")
    tail = bare.rsplit("_", 1)[-1]
    keys = [own, bare, *([bare.rsplit("_", 1)[0]] if tail in _ALL_UNITS and tail != bare else [])]
    for key in keys:
        for field in (*kind.fields, *(PSEUDO if "mass_g" in kind.fields and "series" in kind.fields else ())):
            if key not in _WORDS.get(field, "").split() and key != field.rsplit("_", 1)[0]:
                continue
            units = _units_of(field)
            named = plain(bracket[1]) if bracket else tail if tail in units and tail != "c" else ""
            return Column(header, field, named)
    return Column(header, "")


def plain(text: str) -> str:
    """Words in lower case joined by underscores, without accents and signs."""
    folded = unicodedata.normalize("NFKD", text.replace("ß", "ss"))
    folded = "".join(c for c in folded if not unicodedata.combining(c)).lower()
    return re.sub(r"[^\w€$£]+", "_", folded.replace("#", " no ")).strip("_")


def value_of(kind: Kind, column: Column, cell: str) -> dict[str, Any]:
    """What a cell says, by field: one, or several where it holds them together. What cannot be read stays
    as it is, for the shape to refuse by name."""
    text, field = cell.strip(), column.field
    holds = _holds(kind.id, field)
    if holds == "number" and not column.unit and _PLAIN.match(text) and field != "capacity_ah":
        return {field: float(text)}
    if holds == "list" and text.lower() == NONE:
        return {field: []}
    if text.lower() in _EMPTY:
        return {}
    if field == VOLTS:
        return {VOLTS: _number(field, column, text, whole=False)}
    if field == SIZE:
        sides = [number_of(x) for x in re.findall(r"\d+(?:[.,]\d+)?", text)]
        scale = _units_of("length_mm").get(_unit_of(text) or column.unit, 1.0)
        names = ("length_mm", "width_mm", "height_mm")
        return (
            {n: round(x * scale, 1) for n, x in zip(names, sides, strict=True)}
            if len(sides) == 3
            else {"length_mm": text}
        )
    if field == "series" and (joined := re.fullmatch(r"(\d+)\s*s\s*(\d+)\s*p", text, re.I)):
        return {"series": int(joined[1]), "parallel": int(joined[2])}
    if field == "label_c" and (
        two := re.fullmatch(r"(\d+(?:[.,]\d+)?)\s*c?\s*[/-]\s*(\d+(?:[.,]\d+)?)\s*c?", text, re.I)
    ):
        return {"label_c": number_of(two[1]), "label_burst_c": number_of(two[2])}
    if holds == "list":
        return {field: [_named(field, w) for w in re.split(r"[\s,;/]+", text) if w]}
    if holds == "flag":
        return {field: _YES_NO.get(text.lower(), text)}
    if holds in ("number", "whole number"):
        return {field: _number(field, column, text, whole=holds == "whole number")}
    named = _named(field, text)
    return {field: cell.strip(" ") if named == text else named}


@cache
def _holds(kind_id: str, field: str) -> str:
    """What a field's shape holds: a list, a flag, a number, a whole number or words."""
    shape = KINDS[kind_id].schema.model_fields.get(field)
    words = str(shape.annotation) if shape is not None else ""
    for sign, holds in (("list", "list"), ("bool", "flag"), ("float", "number"), ("int", "whole number")):
        if re.search(rf"\b{sign}\b", words):
            return holds
    return "words"


def _number(field: str, column: Column, text: str, *, whole: bool) -> Any:
    unit = _unit_of(text) or column.unit
    units = _units_of(field)
    figure = re.sub(r"^[€$£]\s*", "", text)
    if unit == "mah":  # no pack has a thousandth of a mAh: a sign before three digits groups thousands
        figure = re.sub(r"(?<=\d)[.,' ](?=\d{3}\b)", "", figure)
    if field.endswith("_g") and not unit.startswith("k"):  # nor does anybody weigh to a thousandth of a gram
        figure = re.sub(r"^([1-9])[.,](\d{3})$", r"\1\2", figure)
    value = number_of(re.sub(r"\s*[^\d.,'eE+-]*$", "", figure))
    if value != value or (unit and units and unit not in units):
        return text
    if field == "capacity_ah" and not unit and plain(column.header) != field and value >= LEAST_LISTED_MAH:
        unit = "mah"
    value = round(value * units.get(unit, 1.0), 6)
    return int(value) if whole and value == int(value) else value


def _named(field: str, text: str) -> Any:
    """A chemistry, plug or half in any spelling; other words as they are."""
    lower = text.lower()
    if field in ("chemistry", "chemistries"):
        if lower in CHEMISTRIES:
            return lower
        read = Text.of(text)
        read_chemistry(read)
        found = {s.value for s in read.seen}
        return found.pop() if len(found) == 1 else lower if len(lower) < 12 else text
    if field in ("plug", "output_plug", "pack_plug", "device_plug", "mates_with", "mistaken_for"):
        key = plain(text)
        if key in plug_families():
            return key
        read = Text.of(text)
        read_plugs(read)
        plugs = {s.value for s in read.seen if s.name == "plug"}
        return plugs.pop() if len(plugs) == 1 else text
    if field in ("balance_plug", "balance_families", "balance_from", "balance_out"):
        key = plain(text).removeprefix("jst_")
        return {"tp_pq": "tp", "pq": "tp"}.get(key, key)
    return lower if field in ("plug_half", "pack_half", "device_half", "kind") else text


def _units_of(field: str) -> dict[str, float]:
    for tail in ("_mohm", "_ah", "_wh", "_mm", "_g", "_a", "_w", "_v", "_c"):
        if field.endswith(tail):
            return _UNITS[tail]
    return _UNITS["awg"] if field.endswith("awg") else _UNITS.get(field, {})


def _unit_of(text: str) -> str:
    """The unit behind a figure, or the currency before it."""
    match = re.search(r"\d\s*([a-zA-ZµΩω€$£]+)\.?$", text)
    return match[1].lower().replace("Ω", "ω") if match else text[:1] if text[:1] in "€$£" else ""
