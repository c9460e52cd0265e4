"""The gate before charging: what was seen and felt, how warm it is, and what the cells read.

Nothing passes that nobody looked at, felt and read: sound is a finding, never what is left without one.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.charging.amps import (
    CAREFUL_C,
    COLDEST_CHARGE_C,
    COOL_CHARGE_C,
    HOTTEST_CHARGE_C,
)
from coldstack.core.errors import DomainError
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import PackReading
from coldstack.core.readings.tolerance import apart, damaged, over_full
from coldstack.core.rules.house_rules import STEADY, HouseRules
from coldstack.core.units import DEG, plain_number

Outcome = Literal["pass", "wait", "mend", "retire", "unlooked", "unread"]
"""Charge it; wait and look again; mend or measure first; retire it; look and feel first; read its cells
first."""

_ORDER: tuple[Outcome, ...] = ("pass", "unread", "unlooked", "wait", "mend", "retire")
HOLDS_H = 24.0
"""For so long a look, a temperature and a reading stand, unless the pack is run or charged before. House
figure. House figure. [h]"""


@dataclass(frozen=True, slots=True)
class Sign:
    """Something to look and feel for, in the order in which one does."""

    id: str
    name: str
    outcome: Outcome
    sentence: str


SIGNS: dict[str, Sign] = {
    s.id: s
    for s in (
        Sign(
            "swollen",
            "Swollen or soft",
            "retire",
            "Swollen: gas has formed inside, and charging it is how fires start. It is not charged again; "
            "retire it.",
        ),
        Sign(
            "dented",
            "Dented or crushed",
            "retire",
            "Dented: layers inside may touch under charge. It is not charged again; retire it.",
        ),
        Sign(
            "punctured",
            "Punctured or leaking",
            "retire",
            "Punctured or leaking: it can burn at any time. Take it outside, and retire it.",
        ),
        Sign(
            "leads",
            "Bare, pinched or loose leads",
            "mend",
            "Bare, pinched or loose leads can short on the bench. Mend them, one wire at a time, then look "
            "again.",
        ),
        Sign(
            "crashed",
            "Crashed with the model",
            "mend",
            "It was in a crash: what is bent inside shows later, by warmth, swelling or a low cell. Leave it "
            "outside for a while, then look, feel and read it before it is charged or run.",
        ),
        Sign(
            "low_cell",
            "A cell was low",
            "mend",
            "A cell was low when it landed. Read each cell before it is charged or run.",
        ),
        Sign(
            "warm",
            "Warm to the hand",
            "wait",
            "Still warm from use. Let it cool to the room’s air, then look again.",
        ),
    )
}


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing found, what follows, and why."""

    id: str
    outcome: Outcome
    sentence: str


@dataclass(frozen=True, slots=True)
class Inspection:
    """What follows for the pack: the worst finding rules.

    Notes of a pack that passes are findings with outcome "pass".
    """

    outcome: Outcome
    findings: tuple[Finding, ...]

    @property
    def passed(self) -> bool:
        """Whether it may go on to a batch."""
        return self.outcome == "pass"


@dataclass(frozen=True, slots=True)
class VisualCheck:
    """What is known of a pack at the gate: whether somebody looked and felt, with what signs; its
    temperature, or that it is at the room's; its cells; how long ago it was run. None where not known."""

    looked: bool = False
    signs: tuple[str, ...] = ()
    temperature_c: float | None = None
    at_room: bool = False
    reading: PackReading | None = None
    run_ago_min: float | None = None
    unread_why: str = ""
    """Why the cells that were read do not count any more."""


def inspection(
    pack: Pack, found: VisualCheck, *, rules: HouseRules = STEADY, barred: Iterable[Finding] = ()
) -> Inspection:
    """Whether a pack may be charged now, with every reason, the worst first.

    ``barred`` is what forbids it whatever is seen today: its past, or that it is charging. A pack that was
    run waits for the house rule's time, unless its temperature was measured or it was felt to be cool.

    Raises
    ------
    DomainError
        For a sign that is not known.
    """
    out = list(barred)
    if not pack.fit:
        why = f" ({pack.note})" if pack.note else ""
        out.append(Finding("unfit", "retire", f"Not to be used{why}. It is not charged again; retire it."))
    for sign_id in found.signs:
        sign = known_sign(sign_id)
        out.append(Finding(sign.id, sign.outcome, sign.sentence))
    if not found.looked and not found.signs:
        words = "Nobody looked at it yet. Swollen, dented, bare leads, warm? Look and feel first."
        out.append(Finding("unlooked", "unlooked", words))
    out += _warmth(found, rules)
    out += _cells(pack, found, rules)
    out.sort(key=lambda f: -_ORDER.index(f.outcome))
    if out and out[0].outcome == "retire":  # how to charge it is no matter then
        out = [f for f in out if f.outcome != "pass"]
    return Inspection(out[0].outcome if out else "pass", tuple(out))


def known_sign(sign_id: str) -> Sign:
    """The sign with this id; raises DomainError for one that is not known."""
    if sign_id not in SIGNS:
        raise DomainError("signs", f"A sign is one of {', '.join(SIGNS)}, not “{sign_id}”.")
    return SIGNS[sign_id]


def _warmth(found: VisualCheck, rules: HouseRules) -> list[Finding]:
    if found.temperature_c is not None:
        return _temperature(found.temperature_c)
    if found.at_room:
        return []
    just_run = _just_run(found.run_ago_min, rules)
    if just_run or not found.looked:
        return just_run
    words = "How warm is it? Read its temperature, or say that it is at the room’s."
    return [Finding("temperature", "unlooked", words)]


def _temperature(temperature_c: float) -> list[Finding]:
    n = plain_number
    if temperature_c < COLDEST_CHARGE_C:
        return [
            Finding(
                "freezing",
                "wait",
                f"At {n(temperature_c)}{DEG}, below freezing, charging plates metal inside the cells. Warm "
                "it to the room first.",
            )
        ]
    if temperature_c > HOTTEST_CHARGE_C:
        return [
            Finding(
                "hot",
                "wait",
                f"At {n(temperature_c)}{DEG} it is too hot to charge. Let it cool below "
                f"{n(HOTTEST_CHARGE_C)}{DEG}, better to the room’s air.",
            )
        ]
    if temperature_c < COOL_CHARGE_C:
        words = (
            f"At {n(temperature_c)}{DEG} it is charged at half its rate. Better warm it to the room first."
        )
        return [Finding("cold", "pass", words)]
    return []


def _just_run(run_ago_min: float | None, rules: HouseRules) -> list[Finding]:
    if run_ago_min is None or not 0 <= run_ago_min < rules.cool_min:
        return []
    words = (
        f"It was run {run_ago_min:.0f} min ago; {rules.cited} let it cool for "
        f"{plain_number(rules.cool_min)} min. Cool to the hand or to a thermometer? Enter its "
        "temperature."
    )
    return [Finding("warm", "wait", words)]


def _cells(pack: Pack, looked: VisualCheck, rules: HouseRules) -> list[Finding]:
    cell, reading = chemistry(pack.chemistry), looked.reading
    if reading is None:
        what, them = ("Its cells were", "them") if cell.balanced else ("Its volts were", "it")
        words = looked.unread_why or f"{what} not read yet. Looks prove nothing: read {them}."
        return [Finding("unread", "unread", words)]
    found, lowest, highest = [], min(reading.cell_v), max(reading.cell_v)
    one = "It rests at {:.2f} V a cell" if reading.whole else "A cell rests at {:.2f} V"
    if damaged(cell.id, lowest):
        found.append(
            Finding(
                "too_low",
                "retire",
                f"{one.format(lowest)}, below {cell.damage_v:.2f} V, and is damaged. Some put "
                "such a pack on charge at a low rate and hope; we advise against it, because dissolved "
                "copper can short the cell later.",
            )
        )
    if over_full(cell.id, highest):
        found.append(
            Finding(
                "over_full",
                "mend",
                f"A cell reads {highest:.2f} V; {cell.name} is full at {cell.full_v:.2f} V. Check the "
                "chemistry and the meter; if it is true, the pack was overcharged.",
            )
        )
    if pack.series > 1:
        far = apart(cell.id, reading.spread_v, rules)
        if far == "act":
            found.append(
                Finding(
                    "apart",
                    "pass",
                    f"Its cells differ by {reading.spread_v:.3f} V. Charge it alone, at "
                    f"{plain_number(CAREFUL_C)}C at most, in balance mode, and watch the low one.",
                )
            )
        elif far == "unknown":
            found.append(
                Finding(
                    "cells_unknown",
                    "pass",
                    "Only the whole pack was read: how far its cells are apart is not known, and one may be "
                    f"empty. Charge it alone, at {plain_number(CAREFUL_C)}C at most, in balance mode; most "
                    "chargers show each cell once the balance plug is in: look there first.",
                )
            )
        elif far == "watch":
            found.append(
                Finding("spread", "pass", f"Its cells differ by {reading.spread_v:.3f} V: worth watching.")
            )
    return found
