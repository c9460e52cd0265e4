"""Several charges at a glance: which one to go to first."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Literal

import numpy as np

from coldstack.core.watching.alarm import LOOK

Urgency = Literal["stop", "warn", "look", "well"]
_ORDER: tuple[Urgency, ...] = ("stop", "warn", "look", "well")


def rank(which: str, level: str) -> int:
    """What of several alarms is told first: what stops, what is wrong, that somebody must look."""
    if level == "stop":
        return 0
    return 2 if which == LOOK else 1


def urgency(alarms: Iterable[tuple[str, str]], look_in_s: float) -> Urgency:
    """How urgent a charge is, by its alarms, each with its id and level, and the seconds until its next
    look."""
    worst = min((rank(which, level) for which, level in alarms), default=2)
    if worst < 2:
        return _ORDER[worst]
    return "look" if look_in_s <= 0 else "well"


def worst_first(found: Urgency, look_in_s: float) -> tuple[int, float]:
    """To sort by: the most urgent first, then what must be looked at soonest."""
    return _ORDER.index(found), look_in_s


def expected_now(minutes: Sequence[float], cell_v: Sequence[float], at_min: float) -> float | None:
    """Volts that a cell should have come to by now; None where nothing could be expected."""
    return float(np.interp(at_min, minutes, cell_v)) if len(minutes) else None
