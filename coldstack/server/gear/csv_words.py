"""What people call the columns of their lists, and how their cells are meant: names, units and values in
any case."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any

from coldstack.core.cells.chemistry import CHEMISTRIES
from coldstack.core.chain.plugs import plug_families
from coldstack.core.fields.quantity import Asked, Choice, ChoiceList, Quantity, Unit
from coldstack.core.fields.typed import UNITS, Scale, Unread, read_typed
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
_ALL_UNITS = frozenset(unit for units in UNITS.values() for unit in units)
_EMPTY = frozenset({"", "-", "–", "—", "n/a", "na", "none", "?", "unknown", "null"})
_OWN = re.compile(r"^-?\d{1,9}(?:\.\d{1,9})?$")
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
    own = plain(column.header) == field
    # a column by our own name holds what we wrote: plain numbers in the unit that is kept
    sure = _OWN if own else _PLAIN
    if holds == "number" and not column.unit and (own or field != "capacity_ah") and sure.match(text):
        return {field: float(text)}
    if holds == "list" and text.lower() == NONE:
        return {field: []}
    if text.lower() in _EMPTY:
        return {}
    if field == VOLTS:
        return {VOLTS: _number(kind, column, text, whole=False)}
    if field == SIZE:
        sides = [number_of(x) for x in re.findall(r"\d+(?:[.,]\d+)?", text)]
        behind = re.search(r"([a-z\"]+)\W*$", text.lower())
        scale = UNITS["mm"].get(behind[1] if behind else column.unit, Scale(1.0)).factor
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
    """A cell as one types a figure, in the unit that its header names; what is not understood stays, to be
    told by the same words as in a form."""
    field, unit = column.field, _unit_kept(kind, column.field)
    if column.unit and column.unit not in UNITS[unit]:
        return text
    found = read_typed(text, unit, column.unit)
    # a bare column of capacities is of mAh where no pack has as many Ah
    bare = field == "capacity_ah" and not column.unit and plain(column.header) != field
    if bare and found.value is not None and found.value >= LEAST_LISTED_MAH and text.strip()[-1].isdigit():
        found = read_typed(text, unit, "mah")
    if found.value is None:
        return Unread.of(text, found.problem)
    value = round(found.value, 6)
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


def _unit_kept(kind: GearKind, field: str) -> Unit:
    if field == VOLTS:
        return "V"
    asked = _asked(kind, field)
    return asked.unit if isinstance(asked, Quantity) else ""


def _units_of(kind: GearKind, field: str) -> Mapping[str, Scale]:
    return UNITS[_unit_kept(kind, field)]
