"""A question asked back at its field: what is odd, and the figure that was likely meant."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from coldstack.core.asking.slips import SlippedFigure
from coldstack.core.fields.quantity import Quantity
from coldstack.core.fields.table import quantity_at
from coldstack.core.units import plain_number, with_unit


@dataclass(frozen=True, slots=True)
class Question:
    """``meant`` in the unit of its field, to be taken with one press; or the figure is said to be so."""

    field: str
    sentence: str
    meant: float


def asked_of(slip: SlippedFigure, of: Any, against: str) -> Question:
    """The question of a slip in a value whose fields are told by the table; ``against`` what it is asked."""
    quantity = quantity_at(of, slip.field)
    told, meant = (_said(v, quantity) for v in (slip.told, slip.meant))
    return Question(slip.field, f"{told} hardly goes {against}. Did you mean {meant}?", slip.meant)


def _said(value: float, quantity: Quantity | None) -> str:
    if quantity is None:
        return plain_number(value, 4)
    if quantity.unit == "Ah":
        return with_unit(plain_number(1000 * value, 4), "mAh")
    return with_unit(plain_number(value, 4), quantity.unit_said)
