"""What the screens know of each field of gear: how it is asked, by its name in the API."""

from __future__ import annotations

import json
from typing import Any

from coldstack.core.fields.quantity import Asked, Choice, Quantity, Unit, Words
from coldstack.core.fields.table import holds_several
from coldstack.core.fields.typed import (
    ASKED,
    COARSE,
    COARSE_BARE,
    LEAST_MAH,
    MOST_LETTERS,
    PARTS,
    SAID,
    UNITS,
)
from coldstack.server.api.shapes import asked_in
from coldstack.server.gear.kinds import KINDS, GearKind

NUMBER_KINDS: dict[Unit, str] = {
    "": "count",
    "Ah": "capacity",
    "g": "mass",
    "mm": "length",
    "C": "c_rate",
    "mΩ": "resistance",
    "AWG": "gauge",
    "A": "current",
    "V": "voltage",
    "W": "power",
    "Wh": "energy",
    "cells": "cells",
    "money": "price",
}
"""How the screens write a number that is kept in a unit."""


def screen_fields(kind: GearKind) -> dict[str, dict[str, Any]]:
    """Each field that is asked, in the order of its shape: how, in which words, and whether it may be left
    open."""
    found = {}
    for name, info in kind.schema.model_fields.items():
        asked = asked_in(kind.schema, name)
        if asked is None:
            continue
        optional = not info.is_required() and info.get_default(call_default_factory=True) in (None, "")
        found[name] = {"label": asked.label, **_how(asked, holds_several(info.annotation), optional)}
        if asked.hint:
            found[name]["hint"] = asked.hint
    return found


def start_of(kind: GearKind) -> dict[str, Any]:
    """What the form of a new one begins with: what is usual, nothing where somebody has to say."""
    start: dict[str, Any] = {}
    for name, info in kind.schema.model_fields.items():
        asked, given = asked_in(kind.schema, name), info.get_default(call_default_factory=True)
        if asked is None and info.is_required():
            continue
        empty: Any = None if isinstance(asked, Quantity) else [] if holds_several(info.annotation) else ""
        start[name] = empty if info.is_required() else given
    return start


def _how(asked: Asked, several: bool, optional: bool) -> dict[str, Any]:
    if isinstance(asked, Quantity):
        how = {"as": "number", "kind": NUMBER_KINDS[asked.unit], "step": asked.step}
        return {**how, **({"optional": True} if optional else {})}
    if isinstance(asked, Choice):
        empty = {"empty": asked.empty} if asked.empty else {}
        return {"as": "choices" if several else "choice", "from": asked.of, **empty}
    if isinstance(asked, Words):
        return {
            "as": "words",
            **({"optional": True} if optional else {}),
            **({"short": True} if asked.short else {}),
        }
    return {"as": "flag"}


def typescript() -> str:
    """The table of all kinds as a module; written by ``make types``."""
    table = {kind.id: {"fields": screen_fields(kind), "start": start_of(kind)} for kind in KINDS.values()}
    return (
        "// Made from core's fields by `make types`: change them there.\n"
        f"export const FIELD_TABLE = {json.dumps(table, ensure_ascii=False, indent=1)} as const;\n"
    )


def units_typescript() -> str:
    """How units may be typed, for the screens' reading of figures; written by ``make types``."""
    units = {
        unit: {word: scale.factor if not scale.offset else list(scale) for word, scale in words.items()}
        for unit, words in UNITS.items()
    }
    said = {unit: SAID.get(unit, unit or "a bare number") for unit in UNITS}
    parts = (
        ("UNITS", units),
        ("SAID", said),
        ("COARSE", sorted(COARSE)),
        ("COARSE_BARE", sorted(COARSE_BARE)),
        ("ASKED", sorted(ASKED)),
        ("PARTS", sorted(PARTS)),
        ("LEAST_MAH", LEAST_MAH),
        ("MOST_LETTERS", MOST_LETTERS),
    )
    lines = [
        f"export const {name} = {json.dumps(value, ensure_ascii=False, indent=1)} as const;"
        for name, value in parts
    ]
    return (
        "// Made from core's reading of figures by `make types`: change it there.\n" + "\n".join(lines) + "\n"
    )
