"""Equipment in words: what it takes, how long a pack must last for it, and at which volts."""

from __future__ import annotations

from coldstack.core.equipment.equipment import Equipment
from coldstack.core.units import minutes_words, plain_number


def description_of(e: Equipment) -> str:
    """ "receiver and servos, 0.8 A for 6 h"."""
    load = f"{plain_number(e.load_a)} A" if e.load_a is not None else f"{plain_number(e.load_w or 0)} W"
    return f"{e.name}, {load} for {plain_number(e.hours)} h"


def lasts_words(e: Equipment) -> str:
    """How long a pack must last for the hours wanted, and why."""
    if e.used_share >= 1:
        return f"A pack must last {minutes_words(e.lasting_min)}."
    used = f"{100 * e.used_share:.0f} % is used, the rest kept in reserve"
    return f"A pack must last {minutes_words(e.lasting_min)}: of that {used}."


def window_words(e: Equipment) -> str:
    """Between which volts a pack may be, all through its discharge."""
    at = "at the device" if e.regulator == "none" else "before the regulator"
    low, high = plain_number(e.pack_min_v), plain_number(e.pack_max_v)
    return f"{low} V at the least under a burst, {high} V at the most when full, {at}."
