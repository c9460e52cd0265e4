"""Rules of the watch about warmth: what the pack should warm by stands beside what is read."""

from __future__ import annotations

from collections.abc import Iterator
from statistics import median

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.charging.warming import charging_rise_k
from coldstack.core.units import DEG, WARMER
from coldstack.core.watching.alarm import Alarm
from coldstack.core.watching.heard import Heard

WARM_OVER_K, HOT_OVER_K = 4.0, 8.0
"""So many kelvin above the most that its current accounts for: touch it; stop it. House figures."""
ROOM_C = 20.0
"""A pack that is colder warms to this by the room alone."""
ABOUT_S = 12.0
"""How warm it is, is the middle of what was read in this time."""


def hot(h: Heard) -> Iterator[Alarm]:
    """Warmer than any sound cell of its chemistry gets on a charger, in any reading."""
    cell = chemistry(h.expected.chemistry)
    for said in h.fresh:
        if said.temperature_c is not None and said.temperature_c >= cell.hottest_charging_c:
            words = (
                f"The pack is at {said.temperature_c:.0f}{DEG}; {cell.name} that is charged stays below "
                f"{cell.hottest_charging_c:.0f}{DEG}."
            )
            yield Alarm("hot", "stop", said.time_s, words)
            return


def warming(h: Heard) -> Iterator[Alarm]:
    """Warmer than its resistances and its current make it."""
    first, last, e = h.first, h.last, h.expected
    if first is None or last is None or first.temperature_c is None or chemistry(e.chemistry).ends_warm:
        return
    read = [s.temperature_c for s in h.since(ABOUT_S) if s.temperature_c is not None]
    if not read:
        return
    now_c, begun_c = median(read), first.temperature_c
    if now_c - begun_c < WARM_OVER_K:
        return  # whatever was due
    due = charging_rise_k(
        e.body, e.current_a, last.time_s - first.time_s, start_c=begun_c, air_c=max(begun_c, ROOM_C)
    )
    over_k = now_c - begun_c - due.high_k
    if over_k < WARM_OVER_K:
        return
    words = (
        f"The pack has warmed by {now_c - begun_c:.0f}{WARMER} to {now_c:.0f}{DEG}, "
        f"where {due.middle_k:.0f} to {due.high_k:.0f}{WARMER} were to be expected."
    )
    if over_k >= HOT_OVER_K:
        yield Alarm("hot", "stop", last.time_s, f"{words} Something in it makes heat.")
    else:
        yield Alarm("warm", "warn", last.time_s, f"{words} Go and touch it.")
