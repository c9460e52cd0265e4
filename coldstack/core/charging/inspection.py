"""The gate before charging: what was seen and felt, and what the cells read. Nothing passes that was not read and found sound."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.charging.cell_readings import PackReading
from coldstack.core.errors import DomainError
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import STEADY, HouseRules
from coldstack.core.units import plain_number

Outcome = Literal["pass", "wait", "mend", "retire", "unread"]
"""Charge it; wait and look again; mend or measure first; retire it; read its cells first."""

COLDEST_CHARGE_C = 0.0
HOTTEST_CHARGE_C = 40.0
OVER_FULL_V = 0.03
"""A cell may read so much over full by the meter's error; more is an overcharge, or a wrong chemistry."""
_ORDER: tuple[Outcome, ...] = ("pass", "unread", "wait", "mend", "retire")


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
        Sign("swollen", "Swollen or soft", "retire", "Swollen: gas has formed inside, and charging it is how fires start. It is not charged again; retire it."),
        Sign("dented", "Dented or crushed", "retire", "Dented: layers inside may touch under charge. It is not charged again; retire it."),
        Sign("punctured", "Punctured or leaking", "retire", "Punctured or leaking: it can burn at any time. Take it outside, and retire it."),
        Sign("leads", "Bare, pinched or loose leads", "mend", "Bare, pinched or loose leads can short on the bench. Mend them, one wire at a time, then look again."),
        Sign("warm", "Warm to the hand", "wait", "Still warm from use. Let it cool to the room’s air, then look again."),
    )
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing found, what follows, and why."""

    id: str
    outcome: Outcome
    sentence: str


@dataclass(frozen=True, slots=True)
class Inspection:
    """What follows for the pack: the worst finding rules. Notes of a pack that passes are findings with outcome "pass"."""

    outcome: Outcome
    findings: tuple[Finding, ...]

    @property
    def passed(self) -> bool:
        """Whether it may go on to a batch."""
        return self.outcome == "pass"


def inspection(pack: Pack, *, signs: Iterable[str], reading: PackReading | None, temperature_c: float | None, rules: HouseRules = STEADY, run_ago_min: float | None = None) -> Inspection:  # fmt: skip
    """Whether a pack may be charged now, with every reason, the worst first.

    ``run_ago_min``: minutes since it was run; it waits for the house rule's time, unless its temperature was measured or it was felt to be cool.

    Raises
    ------
    DomainError
        For a sign that is not known.
    """
    found: list[Finding] = []
    if not pack.fit:
        why = f" ({pack.note})" if pack.note else ""
        found.append(Finding("unfit", "retire", f"Not to be used{why}. It is not charged again; retire it."))
    for sign_id in signs:
        if sign_id not in SIGNS:
            raise DomainError("signs", f"A sign is one of {', '.join(SIGNS)}, not “{sign_id}”.")
        sign = SIGNS[sign_id]
        found.append(Finding(sign.id, sign.outcome, sign.sentence))
    found += _temperature(temperature_c)
    found += _just_run(temperature_c, run_ago_min, rules)
    found += _cells(pack, reading, rules)
    found.sort(key=lambda f: -_ORDER.index(f.outcome))
    return Inspection(found[0].outcome if found else "pass", tuple(found))


def _temperature(temperature_c: float | None) -> list[Finding]:
    if temperature_c is None:
        return []
    n = plain_number
    if temperature_c < COLDEST_CHARGE_C:
        return [Finding("freezing", "wait", f"At {n(temperature_c)} °C, below freezing, charging plates metal inside the cells. Warm it to the room first.")]  # fmt: skip
    if temperature_c > HOTTEST_CHARGE_C:
        return [Finding("hot", "wait", f"At {n(temperature_c)} °C it is too hot to charge. Let it cool below {n(HOTTEST_CHARGE_C)} °C, better to the room’s air.")]  # fmt: skip
    return []


def _just_run(temperature_c: float | None, run_ago_min: float | None, rules: HouseRules) -> list[Finding]:
    if temperature_c is not None or run_ago_min is None or not 0 <= run_ago_min < rules.cool_min:
        return []
    words = f"It was run {run_ago_min:.0f} min ago; {rules.cited} let it cool for {plain_number(rules.cool_min)} min. Cool to the hand or to a thermometer? Enter its temperature."
    return [Finding("warm", "wait", words)]


def _cells(pack: Pack, reading: PackReading | None, rules: HouseRules) -> list[Finding]:
    cell = chemistry(pack.chemistry)
    if reading is None:
        return [Finding("unread", "unread", "Its cells were not read yet. Looks prove nothing: read them.")]
    found, lowest, highest = [], min(reading.cell_v), max(reading.cell_v)
    if lowest < cell.damage_v:
        found.append(Finding("too_low", "retire", f"A cell rests at {lowest:.2f} V, below {cell.damage_v:.2f} V, and is damaged. Some put such a pack on charge at a low rate and hope; we advise against it, because dissolved copper can short the cell later."))  # fmt: skip
    if highest > cell.full_v + OVER_FULL_V:
        found.append(Finding("over_full", "mend", f"A cell reads {highest:.2f} V; {cell.name} is full at {cell.full_v:.2f} V. Check the chemistry and the meter; if it is true, the pack was overcharged."))  # fmt: skip
    if cell.charge_method == "cc_cv" and pack.series > 1:
        if reading.spread_v >= rules.spread_act_v - 1e-9:
            found.append(Finding("spread", "pass", f"Its cells differ by {reading.spread_v:.3f} V. Charge it alone, slowly, in balance mode, and watch the low one."))  # fmt: skip
        elif reading.spread_v >= rules.spread_watch_v - 1e-9:
            found.append(Finding("spread", "pass", f"Its cells differ by {reading.spread_v:.3f} V: worth watching."))  # fmt: skip
    return found
