"""What plugs look like from the front: shell and contacts of the half that packs carry, in millimetres.

Those of a drawing are from the footprint library that Debian has as ``kicad-footprints`` 6.0.11 (shell,
middles of the contacts, and that minus is at the cut corners); the others are typical, no sheet behind them,
and as far off as `spread_mm` says. A caliper on one's own plug goes before both.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from coldstack.core.chain.plugs import (
    CONTACT_SHAPES,
    ContactShape,
    PlugFamily,
    are_look_alikes,
    plug_families,
    plug_family,
)
from coldstack.core.units import MM, upper_first

FaceSource = Literal["drawing", "typical", "own"]
OWN_SPREAD_MM = 0.3
"""What one measured oneself may be off. House figure. [mm]"""
RULE_MM = 0.3
"""What one reads off a rule may be off by so much. House figure. [mm]"""


@dataclass(frozen=True, slots=True)
class Contact:
    """One contact from the front: its middle, and its size across and up. [mm]

    ``pole`` is plus or minus, empty where makers do not agree.
    """

    across_mm: float
    up_mm: float
    width_mm: float
    height_mm: float
    pole: str


@dataclass(frozen=True, slots=True)
class Face:
    """One family from the front. ``cut_mm`` are corners cut off at the minus end; ``single`` has a plug for
    each pole. ``apart_mm`` is between the middles of the contacts, None of single ones."""

    family: str
    shape: ContactShape
    width_mm: float
    height_mm: float
    contact_mm: float
    apart_mm: float | None
    cut_mm: float = 0.0
    round_shell: bool = False
    turned: bool = False
    """One blade stands across the other."""
    spread_mm: float = 0.7
    source: FaceSource = "typical"

    @property
    def single(self) -> bool:
        """Whether each pole has a plug of its own."""
        return self.apart_mm is None

    @property
    def contacts(self) -> tuple[Contact, ...]:
        """Plus on the right, as the cut corners are drawn on the left."""
        thick = self.contact_mm if self.shape != "blade" else max(self.contact_mm / 6, 0.8)
        if self.apart_mm is None:
            return (Contact(0.0, 0.0, self.contact_mm, thick, ""),)
        # where corners are cut that tells; of the others only the marks on the plug itself do
        named = self.cut_mm > 0
        half = self.apart_mm / 2
        size = self.contact_mm, thick
        across = (thick, self.contact_mm) if self.turned else size
        return (
            Contact(-half, 0.0, *size, "minus" if named else ""),
            Contact(half, 0.0, *across, "plus" if named else ""),
        )


def _bullet(family: str, contact_mm: float) -> Face:
    return Face(family, "round", contact_mm, contact_mm, contact_mm, None, 0.0, True, spread_mm=0.1)


FACES: dict[str, Face] = {
    f.family: f
    for f in (
        Face("xt30", "round", 10.2, 5.2, 2.0, 5.0, 1.7, spread_mm=0.2, source="drawing"),
        Face("xt60", "round", 15.5, 8.1, 3.5, 7.2, 2.7, spread_mm=0.2, source="drawing"),
        Face("xt90", "round", 21.2, 10.5, 4.5, 10.9, 3.3, spread_mm=0.5),
        Face("xt120", "round", 27.0, 13.0, 5.0, 14.0, 4.0, spread_mm=1.5),
        Face("ec2", "round", 12.0, 6.2, 2.0, 5.6, 0.0, True),
        Face("ec3", "round", 16.5, 8.4, 3.5, 7.9, 0.0, True),
        Face("ec5", "round", 22.0, 11.4, 5.0, 11.0, 0.0, True),
        Face("xt150", "round", 11.5, 11.5, 6.0, None, 0.0, True),
        Face("as150", "round", 14.0, 14.0, 7.0, None, 0.0, True),
        Face("qs8", "round", 32.0, 16.0, 8.0, 16.0, spread_mm=2.0),
        Face("t_plug", "blade", 16.0, 8.0, 6.4, 7.4, turned=True),
        *(_bullet(f"bullet_{d:g}".replace(".", "_"), d) for d in (2, 3.5, 4, 5, 5.5, 6, 6.5, 8)),
        _bullet("banana_4", 4.0),
        Face("rcy", "square", 7.4, 4.6, 1.0, 2.5, spread_mm=0.5),
        Face("sm", "square", 7.6, 6.4, 1.0, 2.5, spread_mm=0.6),
        Face("ph_2", "square", 6.3, 4.9, 0.5, 2.0, spread_mm=0.3, source="drawing"),
        Face("pin_1", "round", 5.6, 3.4, 1.0, 2.0, spread_mm=0.5),
        Face("micro_125", "square", 4.3, 3.4, 0.35, 1.25, spread_mm=0.3),
        Face("block_large", "round", 14.4, 7.2, 2.4, 6.2, spread_mm=1.0),
        Face("block_small", "round", 9.6, 5.0, 1.5, 4.2, spread_mm=0.8),
    )
}
"""By family of the table; of others nobody gave any measures but who added them."""


def faces() -> dict[str, Face]:
    """Every face there is, by family: the table's, and one's own where they were measured."""
    own = {f.id: face for f in plug_families().values() if (face := _measured_face(f)) is not None}
    return {**FACES, **own}


def face_of(family_id: str) -> Face | None:
    """One of them; None where nobody measured it."""
    return FACES.get(family_id) or _measured_face(plug_family(family_id))


def _measured_face(f: PlugFamily) -> Face | None:
    """By the measures of who added it; None unless contacts and, of two in one shell, the shell are known."""
    if not f.contact_shape or f.contact_mm is None:
        return None
    width, height = f.shell_width_mm, f.shell_height_mm
    if f.apart_mm is None:
        width, height = width or f.contact_mm, height or f.contact_mm
    if width is None or height is None:
        return None
    return Face(
        f.id,
        f.contact_shape,
        width,
        height,
        f.contact_mm,
        f.apart_mm,
        spread_mm=OWN_SPREAD_MM,
        source="own",
    )


@dataclass(frozen=True, slots=True)
class Telling:
    """The one measure that tells two families apart: which, and what it is of both. [mm]"""

    measure: str
    one_mm: float
    other_mm: float
    sentence: str


MEASURES: dict[str, str] = {
    "contact_mm": "width of a contact",
    "apart_mm": "between the middles of the contacts",
    "width_mm": "width of the shell",
    "height_mm": "height of the shell",
}
"""What one can measure with a rule, in words."""


def told_apart(one: Face, other: Face) -> Telling | None:
    """The measure in which two differ most for what it may be off; None where no rule tells them apart."""
    best: tuple[float, str] | None = None
    for name in MEASURES:
        a, b = getattr(one, name), getattr(other, name)
        if a is None or b is None:
            continue
        sure = abs(a - b) / (one.spread_mm + other.spread_mm + RULE_MM)
        if best is None or sure > best[0]:
            best = sure, name
    if best is None or best[0] < 1:
        return None
    a, b = getattr(one, best[1]), getattr(other, best[1])
    names = plug_family(one.family).name, plug_family(other.family).name
    words = f"{upper_first(MEASURES[best[1]])}: {a:g}{MM} of {names[0]}, {b:g}{MM} of {names[1]}."
    return Telling(best[1], a, b, words)


def look_apart(one: Face, other: Face) -> str:
    """What tells two apart without a rule, in words; empty where they look the same but for their size."""
    mine, yours = _looks(one), _looks(other)
    if mine == yours:
        return ""
    names = plug_family(one.family).name, plug_family(other.family).name
    return f"{names[0]} has {mine}, {names[1]} {yours}."


def _looks(face: Face) -> str:
    shell = "two cut corners" if face.cut_mm > 0 else "round ends" if face.round_shell else "square ends"
    return f"{shell} and {CONTACT_SHAPES[face.shape]}" + (", one across the other" if face.turned else "")


@dataclass(frozen=True, slots=True)
class PlugMatch:
    """One family that it may be; ``off`` is its worst measure, in parts of what that may be off."""

    family: str
    off: float
    sentence: str


MOST_OFF = 1.0


def which_plug(
    *, shape: ContactShape | None = None, single: bool | None = None, measured_mm: dict[str, float]
) -> list[PlugMatch]:
    """Families that fit what was seen and measured, the nearest first.

    A measure fits within what the family's may be off and what a rule may. What nobody measured excludes
    nothing; with nothing told all are as likely.
    """
    found = []
    for face in faces().values():
        if (shape is not None and face.shape != shape) or (single is not None and face.single != single):
            continue
        offs = []
        for name, mm in measured_mm.items():
            known = getattr(face, name)
            offs.append(float("inf") if known is None else abs(mm - known) / (face.spread_mm + RULE_MM))
        off = max(offs, default=0.0)
        if off <= MOST_OFF:
            found.append(PlugMatch(face.family, off, _fits(face, measured_mm)))
    return sorted(found, key=lambda x: x.off)


def _fits(face: Face, measured_mm: dict[str, float]) -> str:
    """How near what was measured comes."""
    said = [f"{MEASURES[k]} {mm:g}{MM}, typically {getattr(face, k):g}{MM}" for k, mm in measured_mm.items()]
    return f"{upper_first('; '.join(said))}." if said else "Nothing measured yet."


def mates_of(family_id: str) -> list[str]:
    """Families that plug into one: itself, and those that are made for it."""
    mine = plug_family(family_id)
    return [
        f.id
        for f in plug_families().values()
        if f.id == family_id or f.id in mine.mates_with or family_id in f.mates_with
    ]


def looks_like(family_id: str) -> list[str]:
    """Families that are taken for one."""
    return [f for f in plug_families() if f != family_id and are_look_alikes(f, family_id)]
