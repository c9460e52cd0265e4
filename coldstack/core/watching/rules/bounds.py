"""Rules of the watch about what was set to end a charge: capacity, time; and what feeds the charger."""

from __future__ import annotations

from collections.abc import Iterator

from coldstack.core.units import plain_number
from coldstack.core.watching.alarm import Alarm
from coldstack.core.watching.heard import Heard


def cutoff(h: Heard) -> Iterator[Alarm]:
    """More mAh than the pack can take, in any reading."""
    most = h.expected.cutoff_mah
    over = next((x for x in h.fresh if x.mah is not None and x.mah > most), None)
    if over is not None:
        words = f"{over.mah:.0f} mAh went in, over the cut-off of {most:.0f} mAh."
        yield Alarm("cutoff", "stop", over.time_s, words)


def timer(h: Heard) -> Iterator[Alarm]:
    """Longer than it may take, by the charge's own time: a charger that is silent has no more of it."""
    if h.now_s > h.expected.timer_s:
        words = f"The safety timer of {h.expected.timer_s / 60:.0f} min has run out."
        yield Alarm("timer", "stop", h.now_s, words)


def supply(h: Heard) -> Iterator[Alarm]:
    """What feeds the charger sags."""
    last, least_v = h.last, h.expected.supply_min_v
    if last is None or last.supply_v is None or least_v is None or last.supply_v >= least_v:
        return
    words = (
        f"The supply has sagged to {plain_number(last.supply_v)} V; the charger wants "
        f"{plain_number(least_v)} V. It will charge slower, or stop."
    )
    yield Alarm("supply_sag", "warn", last.time_s, words)
