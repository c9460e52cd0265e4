"""Slips in gear as it is typed, asked back in its form."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from typing import Annotated, Any

from pydantic import Field, ValidationError

from coldstack.core.asking import gear as slips
from coldstack.core.asking.question import Question
from coldstack.core.errors import DomainError
from coldstack.server.gear.assemble import Row, cell_of, charger_of, pack_of, supply_of
from coldstack.server.gear.kinds import clean, kind_of
from coldstack.server.sizing.schemas import In


class AskedIn(In):
    """Gear of this kind as it is typed; ``sure`` are fields that were asked back, and are so."""

    kind: Annotated[str, Field(max_length=12)]
    row: dict[str, Any]
    sure: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=20)] = []


_ASKS: dict[str, Callable[[Row, tuple[str, ...]], list[Question]]] = {
    "packs": lambda row, sure: slips.slips_in_pack(pack_of(row, ""), sure),
    "catalogue": lambda row, sure: slips.slips_in_pack(pack_of(row, ""), sure),
    "chargers": lambda row, sure: slips.slips_in_charger(charger_of(row), sure),
    "supplies": lambda row, sure: slips.slips_in_supply(supply_of(row), sure),
    "cells": lambda row, sure: slips.slips_in_cell(cell_of(row), sure),
}


def questions(data: AskedIn) -> list[Question]:
    """What to ask of it; nothing of what cannot be kept yet, which is refused where it is."""
    kind = kind_of(data.kind)
    with suppress(DomainError, ValidationError):
        return asked_of_row(kind.id, clean(kind, data.row), tuple(data.sure))
    return []


def asked_of_row(kind_id: str, row: Row, sure: tuple[str, ...] = ()) -> list[Question]:
    """The same of a row that the core has accepted; nothing of kinds without figures that go together."""
    asks = _ASKS.get(kind_id)
    return [] if asks is None else asks(row, sure)
