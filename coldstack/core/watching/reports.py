"""What a charger says, taken as what anybody says: checked before it is believed.

A sample is believed only whole: the cells that the pack has, finite numbers within what can be, a clock and
a count that go forward. What is left of an unbelievable one is judged for danger all the same.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from coldstack.core.watching.watch import Sample

PortState = Literal["charging", "done", "stopped"]
STATES: tuple[PortState, ...] = ("charging", "done", "stopped")

MOST_SAMPLES = 500
LONGEST_S = 7 * 86_400.0
LONGEST_JUMP_S = 3600.0
"""A charge's own clock does not go on by more between two samples. House figure."""
BOUNDS: dict[str, tuple[float, float, str]] = {
    "cell_v": (0.0, 6.0, "a cell’s volts"),
    "current_a": (-100.0, 1000.0, "the amps"),
    "temperature_c": (-40.0, 150.0, "the temperature"),
    "mah": (0.0, 1_000_000.0, "the mAh"),
    "supply_v": (0.0, 100.0, "the supply’s volts"),
    "cell_mohm": (0.01, 10_000.0, "a cell’s resistance"),
}
FALLING_MAH = 1.0
"""Charge that went in does not come out again, but for a meter's last digit."""


@dataclass(frozen=True, slots=True)
class Believed:
    """A report as far as it is believed. ``doubts`` say what is not, in words; ``danger`` is the last sample
    as far as it can be read where it was not believed whole."""

    state: PortState
    ended: str
    time_s: float
    samples: tuple[Sample, ...] = ()
    doubts: tuple[str, ...] = ()
    danger: Sample | None = None


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
    taken, danger = _samples(listed[:MOST_SAMPLES], cells, before, doubts, ending=state != "charging")
    time_s = _number(said.get("time_s"), 0.0, LONGEST_S)
    least = taken[-1].time_s if taken else then
    if time_s is None or time_s < least - 1e-6 or time_s > least + LONGEST_JUMP_S:
        doubts.append("its clock cannot be")
        time_s = least
    ended = said.get("ended")
    return Believed(
        state,
        ended[:300] if isinstance(ended, str) else "",
        time_s,
        tuple(taken),
        tuple(dict.fromkeys(doubts)),
        danger,
    )


def _samples(
    listed: Sequence[object], cells: int, before: Sample | None, doubts: list[str], *, ending: bool
) -> tuple[list[Sample], Sample | None]:
    taken: list[Sample] = []
    danger = None
    for k, one in enumerate(listed):
        last = taken[-1] if taken else before
        sample, faults = _sample(one, cells, last, at_end=ending and k == len(listed) - 1)
        if faults or sample is None:
            doubts += faults
            danger = sample or danger
        elif before is None or sample.seq > before.seq:
            taken.append(sample)
    return taken, danger


def _sample(
    said: object, cells: int, last: Sample | None, *, at_end: bool
) -> tuple[Sample | None, list[str]]:
    """A sample as far as it can be read, and what is wrong with it; None for what is none at all."""
    if not isinstance(said, Mapping):
        return None, ["a sample is none"]
    faults: list[str] = []
    seq, time_s = said.get("seq"), _number(said.get("time_s"), 0.0, LONGEST_S)
    if not isinstance(seq, int) or isinstance(seq, bool) or not 1 <= seq < 2**31:
        faults.append("a sample’s number cannot be")
        seq = last.seq + 1 if last else 1
    elif last is not None and seq <= last.seq:
        return None, []  # it was here before
    then = last.time_s if last else 0.0
    if time_s is None or time_s > then + LONGEST_JUMP_S:
        faults.append("its clock cannot be")
        time_s = then
    elif last is not None and (time_s < then or (time_s == then and not at_end)):
        faults.append("its clock stands still, or goes back")
        time_s = then
    volts, sentence = _cells(said.get("cell_v"), cells, last)
    faults += sentence
    amps, mah = _read("current_a", said, faults), _read("mah", said, faults)
    if mah is not None and last is not None and mah < last.mah - FALLING_MAH:
        faults.append("the mAh fall")
    warmth = _temperature(said, last, faults)
    sample = Sample(
        seq,
        time_s,
        volts,
        amps if amps is not None else (last.current_a if last else 0.0),
        warmth,
        mah if mah is not None else (last.mah if last else 0.0),
        _number(said.get("supply_v"), *BOUNDS["supply_v"][:2]),
        _resistances(said.get("cell_mohm"), cells),
    )
    return (sample if volts else None), faults


def _cells(said: object, cells: int, last: Sample | None) -> tuple[tuple[float, ...], list[str]]:
    """Volts of every cell. Where one cannot be read, those before stand for it; with another count of cells
    nothing does but the last that were read."""
    if not isinstance(said, list) or len(said) != cells:
        found = len(said) if isinstance(said, list) else 0
        return (last.cell_v if last else ()), [f"it reads {found} cells of {cells}"]
    low, high, name = BOUNDS["cell_v"]
    read = [_number(v, low, high) for v in said]
    if all(v is not None for v in read):
        return tuple(v for v in read if v is not None), []
    usual = last.cell_v if last else tuple(v for v in read if v is not None)[:1] * cells
    volts = tuple(usual[k] if v is None else v for k, v in enumerate(read)) if usual else ()
    return volts, [f"{name} cannot be"]


def _temperature(said: Mapping[str, Any], last: Sample | None, faults: list[str]) -> float | None:
    if said.get("temperature_c") is None:
        if last is not None and last.temperature_c is not None:
            faults.append("the temperature is gone")
            return last.temperature_c
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
