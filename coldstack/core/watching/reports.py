"""What a charger says, taken as what anybody says: checked before it is believed.

A sample is believed only whole: the cells that the pack has, finite numbers within what can be, a clock and
a count that go forward. What can be read of an unbelievable one is judged for danger all the same.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from coldstack.core.watching.samples import Glimpse, Sample

PortState = Literal["charging", "done", "stopped"]
STATES: tuple[PortState, ...] = ("charging", "done", "stopped")

MOST_SAMPLES = 500
LONGEST_S = 7 * 86_400.0
LONGEST_JUMP_S = 3600.0
"""A charge's own clock does not go on by more between two samples. House figure."""
ROUNDED_S = 1.0
"""A sample's time may be rounded past the charger's own clock, and the last one's back. House figure."""
BOUNDS: dict[str, tuple[float, float, str]] = {
    "cell_v": (0.0, 6.0, "a cell’s volts"),
    "current_a": (-100.0, 1000.0, "the amps"),
    "temperature_c": (-20.0, 90.0, "the temperature"),
    "mah": (0.0, 1_000_000.0, "the mAh"),
    "supply_v": (0.0, 100.0, "the supply’s volts"),
    "cell_mohm": (0.01, 10_000.0, "a cell’s resistance"),
}
GLIMPSED_C = (-20.0, 150.0)
"""A temperature out of bounds that may be a fire all the same."""
FALLING_MAH = 1.0
"""Charge that went in does not come out again, but for a meter's last digit."""


@dataclass(frozen=True, slots=True)
class Believed:
    """A report as far as it is believed. ``doubts`` say what is not, in words; ``glimpses`` are what can be
    read of samples that were not believed whole."""

    state: PortState
    ended: str
    time_s: float
    samples: tuple[Sample, ...] = ()
    doubts: tuple[str, ...] = ()
    glimpses: tuple[Glimpse, ...] = ()


def believed(said: object, *, cells: int, before: Sample | None) -> Believed:
    """A report on a pack of so many cells in series, after the sample that was believed last."""
    then = before.time_s if before else 0.0
    if not isinstance(said, Mapping):
        return Believed("charging", "", then, doubts=("it sent no report",))
    doubts: list[str] = []
    state: PortState = next((x for x in STATES if x == said.get("state")), "charging")
    if said.get("state") not in STATES:
        doubts.append("it does not say whether it charges")
    listed = said.get("samples")
    if not isinstance(listed, list):
        doubts.append("it sent no samples")
        listed = []
    taken, glimpses = _samples(listed[:MOST_SAMPLES], cells, before, doubts, ending=state != "charging")
    time_s = _number(said.get("time_s"), 0.0, LONGEST_S)
    least = taken[-1].time_s if taken else then
    if time_s is None or time_s < least - ROUNDED_S or time_s > least + LONGEST_JUMP_S:
        doubts.append("its clock cannot be")
        time_s = least
    ended = said.get("ended")
    return Believed(
        state,
        ended[:300] if isinstance(ended, str) else "",
        max(time_s, least),
        tuple(taken),
        tuple(dict.fromkeys(doubts)),
        tuple(glimpses),
    )


def _samples(
    listed: Sequence[object], cells: int, before: Sample | None, doubts: list[str], *, ending: bool
) -> tuple[list[Sample], list[Glimpse]]:
    taken: list[Sample] = []
    glimpses: list[Glimpse] = []
    for k, one in enumerate(listed):
        last = taken[-1] if taken else before
        found = _sample(one, cells, last, at_end=ending and k == len(listed) - 1)
        if isinstance(found, Sample):
            taken.append(found)
        elif found is not None:
            doubts += found
            if isinstance(one, Mapping):
                glimpses.append(_glimpse(one, last))
    return taken, glimpses


def _sample(said: object, cells: int, last: Sample | None, *, at_end: bool) -> Sample | list[str] | None:
    """A sample, or what is wrong with it; None for one that was here before."""
    if not isinstance(said, Mapping):
        return ["a sample is none"]
    faults: list[str] = []
    seq, then = said.get("seq"), last.time_s if last else 0.0
    if not isinstance(seq, int) or isinstance(seq, bool) or not 1 <= seq < 2**31:
        faults.append("a sample’s number cannot be")
        seq = 0
    elif last is not None and seq <= last.seq:
        return None
    time_s = _time(said, then, faults, first=last is None, at_end=at_end)
    volts = _cells(said.get("cell_v"), cells, faults)
    amps, mah = _read("current_a", said, faults), _read("mah", said, faults)
    if mah is not None and last is not None and mah < last.mah - FALLING_MAH:
        faults.append("the mAh fall")
    warmth = _temperature(said, last, faults)
    if faults or amps is None or mah is None:
        return faults
    supply_v = _number(said.get("supply_v"), *BOUNDS["supply_v"][:2])
    return Sample(seq, time_s, volts, amps, warmth, mah, supply_v, _resistances(said.get("cell_mohm"), cells))


def _time(said: Mapping[str, Any], then: float, faults: list[str], *, first: bool, at_end: bool) -> float:
    """When it was taken. A charger that stops reads once more, at the same time, or rounded back."""
    time_s = _number(said.get("time_s"), 0.0, LONGEST_S)
    if time_s is None or time_s > then + LONGEST_JUMP_S:
        faults.append("its clock cannot be")
        return then
    if not first and time_s <= then and not (at_end and time_s >= then - ROUNDED_S):
        faults.append("its clock stands still, or goes back")
    return max(time_s, then)


def _glimpse(said: Mapping[str, Any], last: Sample | None) -> Glimpse:
    listed = said.get("cell_v")
    read = [_number(v, *BOUNDS["cell_v"][:2]) for v in listed[:60]] if isinstance(listed, list) else []
    return Glimpse(
        last.time_s if last else 0.0,
        tuple(v for v in read if v is not None),
        _number(said.get("current_a"), *BOUNDS["current_a"][:2]),
        _number(said.get("temperature_c"), *GLIMPSED_C),
        _number(said.get("mah"), *BOUNDS["mah"][:2]),
    )


def _cells(said: object, cells: int, faults: list[str]) -> tuple[float, ...]:
    """Volts of every cell; a fault where their number is wrong, or one cannot be read."""
    if not isinstance(said, list) or len(said) != cells:
        faults.append(f"it reads {len(said) if isinstance(said, list) else 0} cells of {cells}")
        return ()
    low, high, name = BOUNDS["cell_v"]
    read = [_number(v, low, high) for v in said]
    if any(v is None for v in read):
        faults.append(f"{name} cannot be")
    return tuple(v for v in read if v is not None)


def _temperature(said: Mapping[str, Any], last: Sample | None, faults: list[str]) -> float | None:
    if said.get("temperature_c") is None:
        if last is not None and last.temperature_c is not None:
            faults.append("the temperature is gone")
        return None
    return _read("temperature_c", said, faults)


def _read(field: str, said: Mapping[str, Any], faults: list[str]) -> float | None:
    low, high, name = BOUNDS[field]
    value = _number(said.get(field), low, high)
    if value is None:
        faults.append(f"{name} cannot be")
    return value


def _resistances(said: object, cells: int) -> tuple[float, ...] | None:
    if not isinstance(said, list) or len(said) != cells:
        return None
    read = [_number(v, *BOUNDS["cell_mohm"][:2]) for v in said]
    return tuple(v for v in read if v is not None) if all(v is not None for v in read) else None


def _number(value: object, low: float, high: float) -> float | None:
    """A finite number within bounds; None for anything else, texts and truths too."""
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        return None
    try:
        number = float(value)
    except OverflowError:
        return None
    return number if math.isfinite(number) and low <= number <= high else None
