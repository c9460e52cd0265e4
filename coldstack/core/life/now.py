"""A pack as it is now: the one place that says how it stands, and what may be done with it and why not.

Every stage asks here: bench, batches, schedule, shelf, page, go or no go, the day, tags, matching, sizing.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal

from coldstack.core.charging.amps import HOTTEST_CHARGE_C
from coldstack.core.charging.inspection import (
    HOLDS_H,
    SIGNS,
    Finding,
    Inspection,
    VisualCheck,
    inspection,
)
from coldstack.core.life.events import Event
from coldstack.core.life.told import PackHistory, told
from coldstack.core.packs.health import Level
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import PackReading, State, worth_a_run
from coldstack.core.readings.tolerance import apart
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.units import plain_number

PackState = Literal[
    "full", "part", "stored", "spent", "too_low", "charging", "cooling", "quarantined", "retired"
]
Act = Literal["charge", "join", "run", "store", "carry"]


@dataclass(frozen=True, slots=True)
class Permission:
    """Whether something may be done with a pack now, and if not, why."""

    allowed: bool
    why: str = ""


@dataclass(frozen=True, slots=True)
class PackNow:
    """A pack now. ``state`` in a word, ``charge`` how full it is beside that; both None while nobody knows.

    ``bars`` is why it is out of every use: condemned, quarantined, retired, not to be used; empty if it is
    not. ``inspection`` is the gate before charging.
    """

    told: PackHistory
    state: PackState | None
    charge: State | None
    level: Level
    sign: str
    bars: str
    reading: PackReading | None
    looked_at: float | None
    """When somebody last looked and felt, while that holds. [s]"""
    inspection: Inspection
    may: dict[Act, Permission]
    temperature_c: float | None = None
    """As it was read, while that holds."""

    @property
    def usable(self) -> bool:
        """Whether it is to be used at all: what is not counts as nobody's pack in Size and Match."""
        return not self.bars


def pack_now(pack: Pack, events: Iterable[Event], rules: HouseRules, now: float) -> PackNow:
    """The pack by its events, at ``now``. [s since 1970]"""
    return now_of(told(pack, events, rules=rules, now=now), now)


def now_of(life: PackHistory, now: float) -> PackNow:
    """The same, of a life that was told before and still holds."""
    bars = _bars(life)
    seen = _looked(life, now)
    gate = inspection(life.pack, seen, rules=life.rules, barred=[*_barred(life, bars), *_past(life)])
    state = _state(life, now)
    return PackNow(
        told=life,
        state=state,
        charge=life.charge,
        level=life.level,
        sign=life.today.sign,
        bars=bars[0].sentence if bars else "",
        reading=life.cells,
        looked_at=life.inspected.at if life.inspected and _fresh(life.inspected.at, now) else None,
        inspection=gate,
        may=_may(life, state, bars, gate),
        temperature_c=seen.temperature_c,
    )


def _past(life: PackHistory) -> list[Finding]:
    """What is said at the gate of a pack of unknown past."""
    if not life.unknown_past:
        return []
    words = (
        "Its past is unknown: read each cell, charge it alone, in balance mode, at half of C, and stay in "
        "sight of it until it is full."
    )
    return [Finding("unknown_past", "pass", words)]


def as_it_is(pack: Pack, now: PackNow) -> Pack:
    """The pack as every stage uses it: with what it holds and resists today, and what else tells how fast it
    may be charged; one that is barred is not fit, and says why."""
    far = apart(pack.chemistry, now.reading.spread_v, now.told.rules) if now.reading else "close"
    health = replace(
        now.told.today,
        apart=pack.series > 1 and far == "act",
        cells_unknown=far == "unknown",
        temperature_c=now.temperature_c,
    )
    today = replace(pack, today=health)
    if now.usable or not pack.fit:
        return today
    return replace(today, fit=False, note=now.bars.rstrip("."))


def _bars(life: PackHistory) -> list[Finding]:
    """What puts it out of every use, the worst first."""
    out = []
    if life.retired_at is not None:
        out.append(Finding("retired", "retire", "It is retired: drained and handed in."))
    if life.level == "retire":
        sign = life.evidence[0][0].sentence
        out.append(Finding("condemned", "retire", f"To be retired: {sign}"))
    if life.quarantine is not None:
        out.append(
            Finding(
                "quarantined",
                "mend",
                f"In quarantine: its last charge was stopped. {life.quarantine.text} Look and feel, outside; "
                "note what you find.".replace("  ", " "),
            )
        )
    return out


def _barred(life: PackHistory, bars: list[Finding]) -> list[Finding]:
    """What forbids charging whatever is seen. What is marked by hand, or was seen, the gate says itself."""
    said = {"unfit", *life.lasting_signs}
    told_there = life.level == "retire" and life.evidence[0][0].id in said
    out = [f for f in bars if not (f.id == "condemned" and told_there)]
    if life.charging is not None:
        out.append(Finding("charging", "wait", "It is charging."))
    return out


def _looked(life: PackHistory, now: float) -> VisualCheck:
    """What of looks, warmth and cells still holds at the gate."""
    seen = life.inspected is not None and _fresh(life.inspected.at, now)
    warm = _fresh(life.warmth_at, now)
    read = life.cells is not None and _fresh(life.cells_at, now)
    stale = f"It was read over {plain_number(HOLDS_H)} h ago. Read it again." if life.cells else ""
    standing = tuple(life.standing_signs)
    return VisualCheck(
        looked=seen,
        signs=tuple(life.signs) if seen else standing,
        temperature_c=life.temperature_c if warm else None,
        at_room=life.at_room and warm,
        reading=life.cells if read else None,
        run_ago_min=None if life.ran_at is None else max(now - life.ran_at, 0.0) / 60,
        unread_why=stale or life.lost_why,
    )


def _fresh(at: float | None, now: float) -> bool:
    return at is not None and at >= now - 3600 * HOLDS_H


def _state(life: PackHistory, now: float) -> PackState | None:
    if life.retired_at is not None:
        return "retired"
    if life.quarantine is not None:
        return "quarantined"
    if life.charging is not None:
        return "charging"
    return "cooling" if cooling_min(life, now) > 0 else life.charge


def cooling_min(life: PackHistory, now: float) -> float:
    """Minutes for which it must still cool after its run; 0 once that is over, or it was felt or measured
    to be cool."""
    if life.ran_at is None or life.at_room:
        return 0.0
    if life.temperature_c is not None:
        return 0.0 if life.temperature_c <= HOTTEST_CHARGE_C else life.rules.cool_min
    return max(life.rules.cool_min - max(now - life.ran_at, 0.0) / 60, 0.0)


def _may(
    life: PackHistory, state: PackState | None, bars: list[Finding], gate: Inspection
) -> dict[Act, Permission]:
    yes = Permission(True)
    if bars:
        no = Permission(False, bars[0].sentence)
        way = "Damaged packs travel by carriers’ rules only." if state != "retired" else bars[0].sentence
        return {"charge": no, "join": no, "run": no, "store": no, "carry": Permission(False, way)}
    if state == "charging":
        no = Permission(False, "It is charging.")
        return {"charge": no, "join": no, "run": no, "store": no, "carry": no}
    charge = yes if gate.passed else Permission(False, gate.findings[0].sentence)
    alone = next((f.sentence for f in gate.findings if f.id in ("apart", "cells_unknown")), "")
    return {
        "charge": charge,
        "join": Permission(False, alone) if charge.allowed and alone else charge,
        "run": _run(life, state),
        "store": yes if life.charge not in (None, "too_low") else Permission(False, "Read its cells first."),
        "carry": yes,
    }


def _run(life: PackHistory, state: PackState | None) -> Permission:
    told = life.charge in ("spent", "too_low")
    if told or (life.socs and not worth_a_run(life.pack.chemistry, min(life.socs), life.rules)):
        return Permission(False, "It is spent: charge it first.")
    if (sign := _to_mend(life)) is not None:
        return Permission(False, sign)
    if state == "cooling":
        return Permission(False, "It was just run: let it cool.")
    return Permission(True)


def _to_mend(life: PackHistory) -> str | None:
    """What was seen of it that is mended or measured before a run, in words."""
    return next((SIGNS[s].sentence for s in life.signs if SIGNS[s].outcome == "mend"), None)


def permitted_cool(now: PackNow) -> Permission:
    """Whether it may be run once it has cooled."""
    sign = _to_mend(now.told)
    return now.may["run"] if now.bars else Permission(sign is None, sign or "")
