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
from coldstack.core.fields.quantity import Asked, Choice, ChoiceList, Quantity
from coldstack.core.labels.figures import LEAST_LISTED_MAH
from coldstack.core.labels.names import read_chemistry, read_plugs
from coldstack.core.labels.text import Text
from coldstack.core.logs.numbers import number_of
from coldstack.server.api.shapes import asked_in
from coldstack.server.gear.csv_cells import NONE
from coldstack.server.gear.kinds import KINDS, GearKind

SIZE = "size"
"""A column that holds length, width and height in one."""
VOLTS = "volts"
"""A column of nominal volts, from which the cells are told where no column counts them."""
PSEUDO = (SIZE, VOLTS)
_PSEUDO_WORDS = {
    VOLTS: "voltage nominal_voltage v nominal_v spannung tension pack_voltage nominal",
    SIZE: "size dimensions dims dimension lxwxh l_x_w_x_h abmessungen masse_mm size_mm",
}
_UNITS: dict[str, dict[str, float]] = {
    "Ah": {"ah": 1.0, "mah": 1e-3},
    "g": {
        "g": 1.0,
        "gr": 1.0,
        "gram": 1.0,
        "grams": 1.0,
        "kg": 1000.0,
        "oz": 28.3495,
        "lb": 453.592,
        "lbs": 453.592,
    },
    "mm": {"mm": 1.0, "cm": 10.0, "in": 25.4, "inch": 25.4, "m": 1000.0},
    "mΩ": {"mohm": 1.0, "mω": 1.0, "ohm": 1000.0, "ω": 1000.0},
    "A": {"a": 1.0, "amp": 1.0, "amps": 1.0, "ma": 1e-3},
    "W": {"w": 1.0, "watt": 1.0, "watts": 1.0, "kw": 1000.0},
    "V": {"v": 1.0, "volt": 1.0, "volts": 1.0, "mv": 1e-3},
    "Wh": {"wh": 1.0, "kwh": 1000.0},
    "C": {"c": 1.0},
    "AWG": {"awg": 1.0},
    "money": {
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
}
_COUNTED: dict[str, dict[str, float]] = {
    "series": {"s": 1.0, "cells": 1.0, "cell": 1.0},
    "parallel": {"p": 1.0},
}
"""What stands behind a count."""
_ALL_UNITS = frozenset(unit for units in (*_UNITS.values(), *_COUNTED.values()) for unit in units)
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


def column_of(kind: GearKind, header: str) -> Column:
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
            if key not in _words_of(kind, field) and key != field.rsplit("_", 1)[0]:
                continue
            units = _units_of(kind, field)
            named = plain(bracket[1]) if bracket else tail if tail in units and tail != "c" else ""
            return Column(header, field, named)
    return Column(header, "")


def plain(text: str) -> str:
    """Words in lower case joined by underscores, without accents and signs."""
    folded = unicodedata.normalize("NFKD", text.replace("ß", "ss"))
    folded = "".join(c for c in folded if not unicodedata.combining(c)).lower()
    return re.sub(r"[^\w€$£]+", "_", folded.replace("#", " no ")).strip("_")


def value_of(kind: GearKind, column: Column, cell: str) -> dict[str, Any]:
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
        return {VOLTS: _number(kind, column, text, whole=False)}
    if field == SIZE:
        sides = [number_of(x) for x in re.findall(r"\d+(?:[.,]\d+)?", text)]
        scale = _UNITS["mm"].get(_unit_of(text) or column.unit, 1.0)
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
        return {field: [_named(_list_of(kind, field), w) for w in re.split(r"[\s,;/]+", text) if w]}
    if holds == "flag":
        return {field: _YES_NO.get(text.lower(), text)}
    if holds in ("number", "whole number"):
        return {field: _number(kind, column, text, whole=holds == "whole number")}
    named = _named(_list_of(kind, field), text)
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


def _number(kind: GearKind, column: Column, text: str, *, whole: bool) -> Any:
    field = column.field
    unit = _unit_of(text) or column.unit
    units = _units_of(kind, field)
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


def _named(of: ChoiceList | None, text: str) -> Any:
    """A chemistry, plug or half in any spelling; other words as they are."""
    lower = text.lower()
    if of == "chemistries":
        if lower in CHEMISTRIES:
            return lower
        read = Text.of(text)
        read_chemistry(read)
        found = {s.value for s in read.seen}
        return found.pop() if len(found) == 1 else lower if len(lower) < 12 else text
    if of in ("plugs", "output_plugs"):
        key = plain(text)
        if key in plug_families():
            return key
        read = Text.of(text)
        read_plugs(read)
        plugs = {s.value for s in read.seen if s.name == "plug"}
        return plugs.pop() if len(plugs) == 1 else text
    if of == "balance_plugs":
        key = plain(text).removeprefix("jst_")
        return {"tp_pq": "tp", "pq": "tp"}.get(key, key)
    return text if of is None else lower


def _asked(kind: GearKind, field: str) -> Asked | None:
    return asked_in(kind.schema, field) if field in kind.fields else None


@cache
def _words_of(kind: GearKind, field: str) -> frozenset[str]:
    """What people call a field, and what the form does."""
    asked = _asked(kind, field)
    words = _PSEUDO_WORDS.get(field, "") if asked is None else f"{asked.words} {plain(asked.label)}"
    return frozenset(words.split())


def _list_of(kind: GearKind, field: str) -> ChoiceList | None:
    """The list from which a field is chosen; None for free words."""
    asked = _asked(kind, field)
    return asked.of if isinstance(asked, Choice) else None


def _units_of(kind: GearKind, field: str) -> dict[str, float]:
    if field == VOLTS:
        return _UNITS["V"]
    asked = _asked(kind, field)
    unit = asked.unit if isinstance(asked, Quantity) else ""
    return _UNITS.get(unit) or _COUNTED.get(field, {})


def _unit_of(text: str) -> str:
    """The unit behind a figure, or the currency before it."""
    match = re.search(r"\d\s*([a-zA-ZµΩω€$£]+)\.?$", text)
    return match[1].lower().replace("Ω", "ω") if match else text[:1] if text[:1] in "€$£" else ""
