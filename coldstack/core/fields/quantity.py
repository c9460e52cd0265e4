"""What a field asks: a number with its unit and bounds, words, a choice, or yes and no.

Annotations of the standard library carry it (``Annotated[float, Quantity("Mass", unit="g", low=0.5)]``):
values stay plain dataclasses that cost nothing to make by the thousand, core needs no package for it, and
what is asked stands on the line of the field. Validators at construction would refuse the first fault only,
and judge each pack of every plan again.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Unit = Literal[
    "",
    "Ah",
    "mAh",
    "g",
    "mm",
    "C",
    "mΩ",
    "AWG",
    "A",
    "mA",
    "V",
    "W",
    "Wh",
    "min",
    "s",
    "h",
    "°C",
    "rpm",
    "rpm/V",
    "dm²",
    "km/h",
    "cells",
    "money",
]
"""In what a number is kept. ``cells`` and ``money`` are written as bare numbers in a sentence."""
ChoiceList = Literal[
    "chemistries",
    "plugs",
    "output_plugs",
    "balance_plugs",
    "piece_kinds",
    "halves",
    "supply_kinds",
    "contact_shapes",
]
"""The lists that a field can choose from."""
BARE: tuple[Unit, ...] = ("cells", "money")


@dataclass(frozen=True, slots=True)
class Asked:
    """What every field has: its ``label``, as forms and sentences name it; what people call it in their lists
    (``words``, without capitals and accents); a ``hint`` beside the field."""

    label: str
    words: str = ""
    hint: str = ""


@dataclass(frozen=True, slots=True)
class Quantity(Asked):
    """A number.

    ``low`` and ``high`` are what can be at all, ``usual`` what most have; ``step`` is that of the field's
    arrows, in the unit that is shown.
    """

    unit: Unit = ""
    low: float = 0.0
    high: float = float("inf")
    step: float = 1.0
    usual: tuple[float, float] | None = None

    @property
    def unit_said(self) -> str:
        """The unit behind a number in a sentence."""
        return "" if self.unit in BARE else self.unit


@dataclass(frozen=True, slots=True)
class Words(Asked):
    """Free words, ``most`` letters at most; ``short`` ones have a narrow field, ``optional`` ones may be
    empty."""

    most: int = 80
    least: int = 0
    short: bool = False


@dataclass(frozen=True, slots=True)
class Choice(Asked):
    """One of a list, or several where the value holds several (``most`` at most). ``ids`` where the list is
    closed; ``empty`` is what the empty choice says, where there is one."""

    of: ChoiceList = "plugs"
    ids: tuple[str, ...] = ()
    empty: str = ""
    most: int = 40


@dataclass(frozen=True, slots=True)
class YesNo(Asked):
    """Yes or no."""
