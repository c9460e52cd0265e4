"""When a pack must be brought to storage, and what to do with it now."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.life.now import PackNow
from coldstack.core.packs.health import Level
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import PackReading, State, pack_reading
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.units import upper_first

Doing = Literal[
    "retire", "inspect", "storage", "read", "light", "day", "ready", "stored", "charging", "retired"
]
DOING: tuple[Doing, ...] = (
    "retire",
    "inspect",
    "storage",
    "read",
    "light",
    "day",
    "ready",
    "stored",
    "charging",
    "retired",
)


@dataclass(frozen=True, slots=True)
class Due:
    """What to do with a pack, in how many hours (negative: overdue, None: no hurry), and why; ``short`` is
    what a list says, where many lines have the same rule."""

    doing: Doing
    in_h: float | None
    sentence: str
    short: str = ""


def due_of(p: PackNow, now: float, *, wanted: bool = False) -> Due:
    """What to do with a pack now; ``wanted``: a day that is near counts on it, so that nobody brings it to
    storage before. [s since 1970]"""
    found = _due_of(p, now)
    if not wanted or found.doing != "storage":
        return found
    since = found.short.rstrip(".") or found.sentence.split(";")[0]
    return Due("day", None, f"{since}; wanted for the day ahead.", "Wanted for the day ahead.")


def counts_on(begins_in_h: float, rules: HouseRules) -> bool:
    """Whether a day that begins in so many hours keeps its packs from storage: not while it is further off
    than a pack may lie full."""
    return begins_in_h <= rules.storage_within_h


def _due_of(p: PackNow, now: float) -> Due:
    if p.state == "quarantined" and p.level != "retire":
        return Due("inspect", None, p.bars)
    if p.state == "charging":
        since = p.told.charging_since
        return Due("charging", None, f"On the charger for {_span(_hours(since, now))}.")
    return storage_due(
        p.told.pack,
        state=p.charge,
        since_h=_hours(p.told.since, now),
        level=p.level,
        sign=p.sign,
        rules=p.told.rules,
        retired=p.state == "retired",
    )


def _hours(since: float | None, now: float) -> float:
    """Never negative: a clock that was set back makes nothing newer than now."""
    return 0.0 if since is None else max(now - since, 0.0) / 3600


def storage_due(
    pack: Pack,
    *,
    state: State | None,
    since_h: float,
    level: Level,
    rules: HouseRules,
    sign: str = "",
    retired: bool = False,
) -> Due:
    """What to do now: retire it, bring it to storage, read it, or leave it.

    ``since_h``: hours since the state was reached; ``sign``: what its health says. Full and empty packs are
    due within the house rule's hours; Li-ion has more; NiMH keeps at any charge.
    """
    if retired:
        return Due("retired", None, "Drained and handed in; its history stays.")
    if level == "retire":
        return Due("retire", None, "It is not charged or run any more.")
    if state is None:
        return Due("read", None, "Its cells were never read.")
    again, cell = level == "again", chemistry(pack.chemistry)
    if state in ("full", "part", "spent", "too_low") and cell.storage_v is not None:
        within = rules.storage_within_h * (rules.liion_storage_times if cell.patient else 1)
        words = {"full": "Full", "part": "Part full", "spent": "Spent", "too_low": "Far too low"}[state]
        left = within - since_h
        tail = f"{rules.cited} allow {_span(within)}."
        since = f"{words} for {_span(since_h)}"
        # a question does not keep it full for longer than the rules allow
        if not again or left < 0:
            return Due("storage", left, f"{since}; {tail}", f"{since}.")
    if again:
        return Due("read", 0.0, sign)
    again_h = 24 * rules.read_again_days
    if since_h > again_h:
        return Due(
            "read",
            again_h - since_h,
            f"Stored for {_span(since_h)}; {rules.cited} read its cells again after {_span(again_h)}.",
        )
    if level in ("light", "watch"):
        return Due("light", None, f"Stored for {_span(since_h)}.")
    doing: Doing = "stored" if state == "stored" else "ready"
    return Due(doing, None, f"Stored for {_span(since_h)}.", upper_first(_span(since_h)))


def cells_expected(p: PackNow) -> PackReading | None:
    """The cells as read, while that holds; else as its charge lets one expect them. None where nobody
    knows."""
    if p.reading is not None:
        return p.reading
    pack, socs = p.told.pack, p.told.socs
    if not socs:
        return None
    volts = tuple(float(resting_voltage(pack.chemistry, soc)) for soc in socs)
    return pack_reading(pack.chemistry, volts, p.told.rules)


def _span(hours: float) -> str:
    if hours < 1:
        return "less than an hour"
    if hours < 48:
        return f"{hours:.0f} h"
    days = round(hours / 24)
    return f"{days} days" if days < 60 else f"{round(days / 30.4)} months"
