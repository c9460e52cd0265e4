"""Alarms of a charge, and which of them mean that something is wrong with the pack."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

AlarmLevel = Literal["warn", "stop"]

LOOK = "look_due"
"""The alarm that says that somebody must look."""
UNBELIEVABLE = "unbelievable"
"""The alarm that the charger says nothing that can be believed: over once it does again."""
PULL_PLUG = "pull_plug"
"""The alarm that nobody knows whether a charge has stopped."""
CANNOT_JUDGE = "cannot_judge"
"""The alarm that the watch itself failed."""
NOT_JUDGED = "not_judged"
"""The alarm that the watch has not judged a charge for too long."""
LOST = "lost"
"""The alarm that the charger knows nothing of a charge any more."""
DANGERS = frozenset(
    ("not_following", "hot", "over_full", "cutoff", "over_current", "wrong_way", "dead_cell", "stuck")
)
"""Alarms that tell of something wrong with the pack: stopped for one of these it is set apart until somebody
looked at it."""


@dataclass(frozen=True, slots=True)
class Alarm:
    """What is wrong, and since when, of the charge's own time. ``stop``: the charge is to be stopped for
    it; whether it was is told by who stopped it, never here. ``cell`` is the number of the one that it is
    about, from 1 on; None where it is about no single one. [s]"""

    id: str
    level: AlarmLevel
    time_s: float
    sentence: str
    cell: int | None = None


def away(gap_s: float, now_s: float) -> Alarm:
    """The watch itself was away."""
    words = (
        f"Nobody watched this charge for {max(1, round(gap_s / 60))} min: this machine slept, or the program "
        "was not running. Look at it now."
    )
    return Alarm("away", "warn", now_s, words)


def lost(charger: str, why: str, now_s: float) -> Alarm:
    """Another charge is on its port."""
    words = f"{charger} charges something else on this port ({why}). Go to it: what, and with which pack?"
    return Alarm(LOST, "stop", now_s, words)


def says_ended(unknown: str, now_s: float) -> Alarm:
    """The charger says that nothing charges, and no reading shows it. ``unknown``: its words where it says
    that it does not know this charge."""
    what = "says that this charge has ended"
    if unknown:
        what = f"says that it does not know this charge ({unknown})"
    words = f"The charger {what}, and no reading shows that nothing flows. Go to it and look."
    return Alarm("says_ended", "stop", now_s, words)


JUDGED_WITHIN_S = 15.0
"""A charge that runs is judged within so many seconds, or that is an alarm. House figure."""


def not_judged(ago_s: float, now_s: float) -> Alarm | None:
    """The watch has not judged it for too long: it hangs, or waits for a charger that does not answer."""
    if ago_s <= JUDGED_WITHIN_S:
        return None
    words = f"The watch has not judged this charge for {ago_s:.0f} s. Go to it and look; stop it there."
    return Alarm(NOT_JUDGED, "stop", now_s, words)


def cannot_judge(what: str, why: str, *, again: bool, now_s: float) -> Alarm:
    """Judging itself failed, at one rule or altogether; ``again``: twice in a row."""
    words = f"The watch cannot judge {what} ({why}). Go to it and look at the pack."
    return Alarm(CANNOT_JUDGE, "stop" if again else "warn", now_s, words)
