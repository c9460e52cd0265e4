"""The bay as it is drawn: what lies in it, where, and what that does to the balance. In millimetres.

Along is counted as the model's positions are: from its nose backwards. Where the middle of the bay was not
told it is counted from the bay's front end. Across and up are counted from the bay's right side and floor.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from coldstack.core.matching.drive import lead_turn_mm
from coldstack.core.readings.tolerance import passes_mm
from coldstack.core.trial.balance import allowed_off_mm, pack_position_mm
from coldstack.core.trial.candidates import Candidates
from coldstack.core.trial.job import BAY_CLEARANCE_MM, Bay, Job
from coldstack.core.trial.lying import Lying, inside_mm, lying
from coldstack.core.units import MM, plain_number

Heavy = Literal["balances", "nose_heavy", "tail_heavy"]
STRAP_MM = 20.0
"""Width of the strap that holds a pack. Usual."""
LYING_WORDS = {
    (1, 1, 1): "",
    (1, 1, 2): "one on the other",
    (1, 2, 1): "side by side",
    (2, 1, 1): "end to end",
}


@dataclass(frozen=True, slots=True)
class BoxInBay:
    """A box by its low corner and its size: along, across, up. [mm]"""

    along_mm: float
    across_mm: float
    up_mm: float
    length_mm: float
    width_mm: float
    height_mm: float


@dataclass(frozen=True, slots=True)
class BayRoom:
    """The bay. ``measured`` names its measured sides; of the others it is as large as what lies in it.
    ``inside`` is what is left of it by the clearance."""

    box: BoxInBay
    inside: BoxInBay
    measured: tuple[str, ...]
    placed: bool
    """Whether anybody said where along the model it is."""


@dataclass(frozen=True, slots=True)
class Balance:
    """Where the model balances with the pack where it lies, and where it should. [mm]

    ``off_mm`` is positive where that is too far back; ``allowed_mm`` what it may be off and still be flown,
    None for what does not fly.
    """

    at_mm: float
    wanted_mm: float
    off_mm: float
    allowed_mm: float | None
    heavy: Heavy
    sentence: str


@dataclass(frozen=True, slots=True)
class BayDrawing:
    """One candidate in its bay, at ``middle_mm``. ``wanted_mm`` is where its middle must lie for balance,
    ``slide_mm`` from where to where it can. ``packs`` and ``leads`` are empty where its size is not known."""

    id: str
    name: str
    bay: BayRoom
    packs: tuple[BoxInBay, ...]
    leads: BoxInBay | None
    """Room in which its leads turn, at the end where they leave it."""
    leads_ahead: bool
    strap: BoxInBay | None
    lie: str
    """How two of them lie, in words; empty for one."""
    middle_mm: float
    slide_mm: tuple[float, float]
    wanted_mm: float | None
    balance: Balance | None
    sticks_out_mm: dict[str, float]
    """By how much it is too large, by the sides of the bay that it passes."""

    @property
    def size_mm(self) -> tuple[float, float, float] | None:
        """Length, width and height of all of it; None where nobody measured it. [mm]"""
        if not self.packs:
            return None
        first, last = self.packs[0], self.packs[-1]
        return (
            last.along_mm + last.length_mm - first.along_mm,
            last.across_mm + last.width_mm - first.across_mm,
            last.up_mm + last.height_mm - first.up_mm,
        )


def bay_drawing(
    job: Job, candidate: Candidates, *, at_mm: float | None = None, leads_ahead: bool = False
) -> BayDrawing:
    """One candidate (a row of one) in the model's bay.

    ``at_mm`` is where somebody puts its middle; as far as the bay lets it go. None for where it balances
    best. ``leads_ahead``: it lies with its leads to the nose.
    """
    c, bay, laid = candidate, job.bay, lying(job, candidate)
    sides = tuple(float(x) for x in laid.box_mm[0])
    known = not any(math.isnan(x) for x in sides)
    room = _room(bay, sides if known else (0.0, 0.0, 0.0))
    slide = _slide(room, sides[0] if known else 0.0)
    wanted = float(pack_position_mm(job, c.mass_g)[0])
    wanted_mm = None if math.isnan(wanted) or not room.placed else wanted
    middle = min(max(_first(at_mm, wanted_mm, sum(slide) / 2), slide[0]), slide[1])
    packs = _packs(laid, middle, room) if known else ()
    balance = _balance(job, float(c.mass_g[0]), middle) if wanted_mm is not None else None
    return BayDrawing(
        id=c.ids[0],
        name=c.names[0],
        bay=room,
        packs=packs,
        leads=_leads(packs, lead_turn_mm(float(c.lead_awg[0])), ahead=leads_ahead),
        leads_ahead=leads_ahead,
        strap=_strap(packs),
        lie=LYING_WORDS[int(laid.count[0, 0]), int(laid.count[0, 1]), int(laid.count[0, 2])],
        middle_mm=middle,
        slide_mm=slide,
        wanted_mm=wanted_mm,
        balance=balance,
        sticks_out_mm=_sticks_out(bay, sides) if known else {},
    )


def _first(*values: float | None) -> float:
    return next(v for v in values if v is not None)


def _room(bay: Bay, sides: tuple[float, ...]) -> BayRoom:
    names = ("length", "width", "height")
    measured = tuple(name for name, room in zip(names, bay.sides_mm, strict=True) if room)
    spare = 2 * BAY_CLEARANCE_MM
    length, width, height = (room or side + spare for room, side in zip(bay.sides_mm, sides, strict=True))
    placed = bay.centre_mm is not None and bay.length_mm is not None
    start = (bay.centre_mm or 0.0) - length / 2 if placed else 0.0
    box = BoxInBay(start, 0.0, 0.0, length, width, height)
    edge = BAY_CLEARANCE_MM
    inside = BoxInBay(start + edge, edge, edge, inside_mm(length), inside_mm(width), inside_mm(height))
    return BayRoom(box, inside, measured, placed)


def _slide(room: BayRoom, length_mm: float) -> tuple[float, float]:
    """Where the pack's middle can be; the middle of the bay alone if it is longer than that.

    As for the check of the balance, up to the ends of the bay: the clearance is the strap's and the leads'.
    """
    middle = room.box.along_mm + room.box.length_mm / 2
    slack = max((room.box.length_mm - length_mm) / 2, 0.0)
    return middle - slack, middle + slack


def _packs(laid: Lying, middle: float, room: BayRoom) -> tuple[BoxInBay, ...]:
    length, width, height = (float(x) for x in laid.box_mm[0])
    along, across, up = (int(n) for n in laid.count[0])
    start = middle - length / 2
    left = room.box.width_mm / 2 - width / 2
    one = length / along, width / across, height / up
    return tuple(
        BoxInBay(start + i * one[0], left + j * one[1], k * one[2], *one)
        for i in range(along)
        for j in range(across)
        for k in range(up)
    )


def _leads(packs: tuple[BoxInBay, ...], turn_mm: float, *, ahead: bool) -> BoxInBay | None:
    if not packs:
        return None
    first, last = min(packs, key=lambda p: p.along_mm), max(packs, key=lambda p: p.along_mm)
    at = first if ahead else last
    start = first.along_mm - turn_mm if ahead else last.along_mm + last.length_mm
    return BoxInBay(start, at.across_mm, at.up_mm, turn_mm, at.width_mm, at.height_mm)


def _strap(packs: tuple[BoxInBay, ...]) -> BoxInBay | None:
    if not packs:
        return None
    first, end = min(p.along_mm for p in packs), max(p.along_mm + p.length_mm for p in packs)
    left, right = min(p.across_mm for p in packs), max(p.across_mm + p.width_mm for p in packs)
    top, wide = max(p.up_mm + p.height_mm for p in packs), min(STRAP_MM, end - first)
    return BoxInBay((first + end - wide) / 2, left, 0.0, wide, right - left, top)


def _balance(job: Job, pack_g: float, middle_mm: float) -> Balance:
    wanted, empty = job.bay.balance_at_mm or 0.0, job.bay.empty_balance_mm or 0.0
    total = job.mass_g + pack_g
    at = (empty * job.mass_g + middle_mm * pack_g) / total
    off = at - wanted
    allowed = float(allowed_off_mm(np.array(total))) if job.motion.flies else None
    even = not passes_mm(abs(off), 0.0)
    heavy: Heavy = "balances" if even else "tail_heavy" if off > 0 else "nose_heavy"
    words = heavy.replace("_", "-")
    if even:
        sentence = f"It balances at {plain_number(wanted)}{MM}."
    else:
        back = "back" if off > 0 else "forward"
        sentence = f"It is {words}: balances {plain_number(abs(off), 2)}{MM} too far {back}"
        limit = "" if allowed is None else f", of at most {plain_number(allowed, 2)}{MM}"
        sentence += f"{limit}."
    return Balance(at, wanted, off, allowed, heavy, sentence)


def _sticks_out(bay: Bay, sides: tuple[float, ...]) -> dict[str, float]:
    """Past what the clearance leaves; as the checks have it."""
    found = {}
    for name, side, room in zip(("length", "width", "height"), sides, bay.sides_mm, strict=True):
        if room and passes_mm(side, inside_mm(room)):
            found[name] = side - inside_mm(room)
    return found
