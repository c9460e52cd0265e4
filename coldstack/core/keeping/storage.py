"""When a pack must be brought to storage, and what to do with it now."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.charging.cell_readings import PackReading, State, pack_reading
from coldstack.core.keeping.health import Level
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules, for_chemistry

Doing = Literal["retire", "storage", "read", "light", "ready", "stored", "retired"]
DOING: tuple[Doing, ...] = ("retire", "storage", "read", "light", "ready", "stored", "retired")


@dataclass(frozen=True, slots=True)
class Due:
    """What to do with a pack, in how many hours (negative: overdue, None: no hurry), and why."""

    doing: Doing
    in_h: float | None
    sentence: str


def storage_due(
    pack: Pack, *, state: State | None, since_h: float, level: Level, rules: HouseRules, retired: bool = False
) -> Due:
    """What to do now: retire it, bring it to storage, read it, or leave it.

    ``since_h``: hours since the state was reached. Full and empty packs are due within the house rule's hours; Li-ion has more;
    NiMH keeps at any charge.
    """
    if retired:
        return Due("retired", None, "Drained and handed in; its history stays.")
    if level == "retire":
        return Due("retire", None, "It is not charged or run any more.")
    if state is None:
        return Due("read", None, "Its cells were never read.")
    cell = chemistry(pack.chemistry)
    if state in ("full", "part", "spent", "too_low") and cell.storage_v is not None:
        within = rules.storage_within_h * (rules.liion_storage_times if pack.chemistry == "liion" else 1)
        words = {"full": "Full", "part": "Part full", "spent": "Spent", "too_low": "Far too low"}[state]
        left = within - since_h
        tail = f"{rules.cited} allow {_span(within)}."
        return Due("storage", left, f"{words} for {_span(since_h)}; {tail}")
    again_h = 24 * rules.read_again_days
    if since_h > again_h:
        return Due("read", again_h - since_h, f"Stored for {_span(since_h)}; {rules.cited} read its cells again after {_span(again_h)}.")  # fmt: skip
    if level in ("light", "watch"):
        return Due("light", None, f"Stored for {_span(since_h)}.")
    return Due("stored" if state == "stored" else "ready", None, f"Stored for {_span(since_h)}.")


def reading_of_state(pack: Pack, state: State | None, *, rules: HouseRules) -> PackReading | None:
    """The cells as a state lets one expect them, all alike: full by the house rules, or spent at their landing point. None for other states."""
    cell = for_chemistry(rules, pack.chemistry)
    soc = {"full": cell.start_soc, "spent": cell.landing_soc}.get(state or "")
    if soc is None:
        return None
    return pack_reading(pack.chemistry, (float(resting_voltage(pack.chemistry, soc)),) * pack.series)


def _span(hours: float) -> str:
    if hours < 1:
        return "less than an hour"
    if hours < 48:
        return f"{hours:.0f} h"
    days = round(hours / 24)
    return f"{days} days" if days < 60 else f"{round(days / 30.4)} months"
