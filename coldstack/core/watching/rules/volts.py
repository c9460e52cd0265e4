"""Rules of the watch about cells: over full, dead, not following, falling, ahead of the others."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from itertools import pairwise
from statistics import median

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage, soc_at_rest
from coldstack.core.charging.charge_time import TAPER_END_C
from coldstack.core.charging.charger import USUAL_BALANCE_A
from coldstack.core.readings.tolerance import over_full_for
from coldstack.core.watching.alarm import Alarm
from coldstack.core.watching.expected import Expected
from coldstack.core.watching.heard import Heard
from coldstack.core.watching.samples import Sample, holds

FOLLOWS_OVER_S, FOLLOWS_RISE_V, FOLLOWS_SHARE = 120.0, 0.008, 0.25
"""Where the others have risen by so much in two minutes, a low cell that rose by less than a quarter of it
does not follow."""
FOLLOWS_SHORT_V, FOLLOWS_SIGMAS = 0.004, 4.0
"""By so much it must fall short, and by so many times the scatter of its own readings. House figures."""
UNLIKE_SHARE = 0.3
"""Cells of one pack resist so much more than the others, as a share. House figure."""
ABOUT_S = 25.0
"""What a cell reads is the middle of its readings in this time: one wobble of a contact says nothing. House
figure."""
DROP_V, STEADY, STEADY_OVER_S, FALLS_BACK_S = 0.03, 0.95, 100.0, 300.0
"""A cell that falls by so much in the last minutes while at least this part of the current still flows.
House figures."""
AHEAD_V, AHEAD_SOC = 0.05, 0.05
"""A cell so far ahead of the others, in volts and in the charge that they mean, will be full first: it holds
less, or its resistance is high. House figures."""
UNDER_CURRENT_SOC = (0.0, 0.05, 0.1, 0.15)
"""Under current a cell reads higher than its charge, by as much of it: somewhere among these it is."""


def over_full(h: Heard) -> Iterator[Alarm]:
    """A cell over its full volts, in any reading, whatever else is wrong with it."""
    if chemistry(h.expected.chemistry).charge_method != "cc_cv":
        return
    full_v = h.expected.full_cell_v
    for said in h.fresh:
        highest = max(said.cell_v, default=0.0)
        if over_full_for(full_v, highest):
            which = said.cell_v.index(highest) + 1
            words = (
                f"Cell {which} is at {highest:.3f} V, over its full {full_v:.2f} V. An overcharge is how "
                "fires start."
            )
            yield Alarm("over_full", "stop", said.time_s, words, which)
            return


def dead_cell(h: Heard) -> Iterator[Alarm]:
    """Volts that no cell has while it is charged."""
    least_v = chemistry(h.expected.chemistry).least_charging_v
    if h.last is not None and holds(h.window, lambda s: min(s.cell_v) < least_v):
        lowest = min(h.last.cell_v)
        which = h.last.cell_v.index(lowest) + 1
        words = (
            f"Cell {which} reads {lowest:.2f} V while it charges, which no sound "
            "cell does: a balance wire is off, or the cell is dead."
        )
        yield Alarm("dead_cell", "stop", h.last.time_s, words, which)


def following(h: Heard) -> Iterator[Alarm]:
    """A low cell that rises far less than the others, by more than its meter's noise."""
    if h.last is None or len(h.last.cell_v) < 2:
        return
    last = h.last
    late, early = cells_about(h.window, last.time_s), cells_about(h.window, last.time_s - FOLLOWS_OVER_S)
    if not early:
        return
    rises = [v - v0 for v, v0 in zip(late, early, strict=True)]
    usual, slowest = median(rises), min(rises)
    k = rises.index(slowest)
    # the fullest cell may stand still because it is bled; a low one may not
    low = late[k] < median(late)
    short_v = max(FOLLOWS_SHORT_V, FOLLOWS_SIGMAS * _scatter(h.since(FALLS_BACK_S), k))
    short_v += _unlike_v(h, last.time_s)
    due = min(usual, rise_due_v(h.expected, early[k], FOLLOWS_OVER_S / 3600 * last.current_a))
    if low and due >= FOLLOWS_RISE_V and slowest < FOLLOWS_SHARE * due and due - slowest >= short_v:
        words = (
            f"Cell {k + 1} does not follow: in two minutes the others rose by {usual:.3f} V, it by "
            f"{slowest:.3f} V. Going on would overcharge the others."
        )
        yield Alarm("not_following", "stop", last.time_s, words, k + 1)


def _unlike_v(h: Heard, time_s: float) -> float:
    """How much less a cell may rise where less current flows than two minutes ago: one that resists more
    than the others loses more by that. [V]"""
    then = [s.current_a for s in h.window if abs(s.time_s - time_s + FOLLOWS_OVER_S) <= ABOUT_S / 2]
    if not then or h.last is None:
        return 0.0
    body = h.expected.body
    ohm = (body.cell_mohm + body.spreading.middle / body.capacity_ah) / 1000
    return UNLIKE_SHARE * ohm * max(median(then) - h.last.current_a, 0.0)


def falling(h: Heard) -> Iterator[Alarm]:
    """A low cell that falls while the same current flows, in two readings one after the other. Less current
    lowers every cell by what its resistance took; a balancer that draws more than flows empties a cell."""
    last, e = h.last, h.expected
    bled_a = USUAL_BALANCE_A if e.balance_a is None else e.balance_a
    if last is None or len(last.cell_v) < 2:
        return
    if last.current_a <= max(TAPER_END_C * e.capacity_ah, bled_a):
        return
    if last.current_a < STEADY * max(s.current_a for s in h.since(STEADY_OVER_S)):
        return
    alike = [s for s in h.since(FALLS_BACK_S) if STEADY * s.current_a <= last.current_a]
    for k, volts in enumerate(last.cell_v):
        fell = max(s.cell_v[k] for s in alike) - max(s.cell_v[k] for s in h.window[-2:])
        if fell >= DROP_V and volts < median(last.cell_v):
            words = f"Cell {k + 1} fell by {fell:.3f} V while charging. It may be shorting inside."
            yield Alarm("not_following", "stop", last.time_s, words, k + 1)
            return


def ahead(h: Heard) -> Iterator[Alarm]:
    """A cell that will be full long before the others."""
    first, last, kind = h.first, h.last, h.expected.chemistry
    if first is None or last is None or len(last.cell_v) < 2:
        return
    cells = cells_about(h.window, last.time_s)
    highest, middle = max(cells), median(cells)
    ahead_v = highest - middle
    if ahead_v < AHEAD_V or max(first.cell_v) - min(first.cell_v) >= AHEAD_V:
        return
    # where the volts run up steeply, a little charge makes many of them
    if soc_at_rest(kind, highest) - soc_at_rest(kind, middle) < AHEAD_SOC:
        return
    which = cells.index(highest) + 1
    words = (
        f"Cell {which} is {ahead_v:.3f} V ahead of the others: it holds less or "
        "resists more. The charge waits for it; look at its resistance in the log."
    )
    yield Alarm("weak_cell", "warn", last.time_s, words, which)


def rise_due_v(e: Expected, cell_v: float, put_in_ah: float) -> float:
    """By how much a cell at this voltage rises by what flows into it, at least: on a plateau it hardly does,
    while others may have left it. Nothing is due where nothing flows in, or flows out. [V]"""
    more = put_in_ah / e.capacity_ah
    if not more > 0:
        return 0.0
    now = soc_at_rest(e.chemistry, cell_v)
    places = [max(now - back, 0.0) for back in UNDER_CURRENT_SOC]
    rises = [
        resting_voltage(e.chemistry, min(z + more, 1.0)) - resting_voltage(e.chemistry, z) for z in places
    ]
    return float(min(rises))


def cells_about(samples: Sequence[Sample], time_s: float) -> list[float]:
    """Each cell in the middle of what it read in the half minute up to then; empty without a sample of it."""
    near = [s.cell_v for s in samples if time_s - ABOUT_S <= s.time_s <= time_s]
    return [median(cell) for cell in zip(*near, strict=True)]


def _scatter(samples: Sequence[Sample], k: int) -> float:
    """How much a cell's reading jumps from one to the next, as a standard deviation. [V]"""
    jumps = [abs(b.cell_v[k] - a.cell_v[k]) for a, b in pairwise(samples)]
    return median(jumps) / (0.6745 * math.sqrt(2)) if jumps else 0.0
