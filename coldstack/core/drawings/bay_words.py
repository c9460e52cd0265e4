"""The sentence of a bay's drawing: what it shows, for those who cannot see it."""

from __future__ import annotations

from coldstack.core.drawings.bay import BayDrawing, BoxInBay
from coldstack.core.readings.tolerance import passes_mm
from coldstack.core.units import MM, plain_number, upper_first

SIDES = 3


def bay_sentence(d: BayDrawing) -> str:
    """All that the drawing shows: sizes, room to slide or what sticks out, the leads, the balance."""
    if d.size_mm is None or d.leads is None:
        room = f"The bay is {_size(d.bay.box)}." if d.bay.measured else "Nor was the bay."
        return f"Nobody measured the pack. {room}"
    found = [
        _in_the_bay(d),
        _room_left(d),
        f"its leads turn in {plain_number(d.leads.length_mm, 2)}{MM} {_end(d)}",
    ]
    return " ".join(x for x in (upper_first("; ".join(found)) + ".", _where(d)) if x)


def _end(d: BayDrawing) -> str:
    return "before it" if d.leads_ahead else "behind it"


def _size(box: BoxInBay) -> str:
    return _by(box.length_mm, box.width_mm, box.height_mm)


def _by(*sides_mm: float) -> str:
    return " × ".join(plain_number(x) for x in sides_mm) + MM


def _in_the_bay(d: BayDrawing) -> str:
    assert d.size_mm is not None
    said = f"two packs {d.lie}, {_by(*d.size_mm)}" if d.lie else _by(*d.size_mm)
    if len(d.bay.measured) == SIDES:
        return f"{said} in a bay of {_size(d.bay.box)}"
    if d.bay.measured:
        return f"{said}; of the bay only {' and '.join(d.bay.measured)} was measured"
    return f"{said}; the bay was not measured"


def _room_left(d: BayDrawing) -> str:
    if d.sticks_out_mm:
        too = " and ".join(f"{plain_number(mm, 2)}{MM} in {side}" for side, mm in d.sticks_out_mm.items())
        return f"too large by {too}"
    if "length" in d.bay.measured:
        return f"it can slide {plain_number(d.slide_mm[1] - d.slide_mm[0])}{MM}"
    return "it goes in as far as that is known" if d.bay.measured else "nobody can say whether it goes in"


def _where(d: BayDrawing) -> str:
    if d.wanted_mm is None or d.balance is None:
        return ""
    low, high = d.slide_mm
    beyond_reach = passes_mm(low, d.wanted_mm) or passes_mm(d.wanted_mm, high)
    beyond = ", which is farther than it can slide" if beyond_reach else ""
    at = f"{plain_number(d.wanted_mm)}{MM} from the nose"
    return f"For balance its middle lies {at}{beyond}. {d.balance.sentence}"
