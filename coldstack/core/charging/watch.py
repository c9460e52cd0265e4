"""Watching a charge: each sample against what is expected; what to warn of, and what to stop at once. And when somebody must look."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median
from typing import Literal

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.charging.charge_time import TAPER_END_C
from coldstack.core.errors import DomainError, require_between
from coldstack.core.units import plain_number

Level = Literal["warn", "stop"]

ALARM_WITHIN_S = {
    "not_following": 180.0,
    "weak_cell": 600.0,
    "warm": 300.0,
    "hot": 600.0,
    "supply_sag": 10.0,
    "link_lost": 10.0,
    "over_full": 10.0,
}
"""From when a fault begins to when it is said, of the charge's own time: what shows at once within two samples, what needs a
slope within a few minutes. Measured on the simulated charger, and tested."""
LOOK_EVERY_S = (60.0, 1200.0)
"""The shortest and the longest time between looks that can be set: touch it every few minutes."""
LOOK_GRACE_S = 180.0
"""No look for so long after it was due: the charge is stopped. Unattended charging is not offered."""
OVER_FULL_V = 0.03
WARM_K, HOT_K = 5.0, 10.0
"""LiPo stays cool while charging: so many kelvin above its start are warm, or stop it."""
HOTTEST_C, NIMH_HOTTEST_C = 45.0, 50.0
FOLLOWS_OVER_S, FOLLOWS_RISE_V, FOLLOWS_SHARE = 120.0, 0.008, 0.25
"""Where the others have risen by so much in two minutes, a low cell that rose by less than a quarter of it does not follow."""
DROP_V = 0.03
AHEAD_V = 0.05
"""A cell so far ahead of the others will be full first: it holds less, or its resistance is high. House figure."""
SILENT_S = 5.0


@dataclass(frozen=True, slots=True)
class Sample:
    """One report of a charger. ``seq`` counts from 1 without a gap, ``time_s`` from the start of the charge."""

    seq: int
    time_s: float
    cell_v: tuple[float, ...]
    current_a: float
    temperature_c: float | None
    mah: float
    supply_v: float | None = None


@dataclass(frozen=True, slots=True)
class Expected:
    """What the charge was set to, and what it may come to."""

    chemistry: str
    series: int
    capacity_ah: float
    current_a: float
    full_cell_v: float
    timer_s: float
    cutoff_mah: float
    look_every_s: float
    supply_min_v: float | None = None


@dataclass(frozen=True, slots=True)
class Alarm:
    """What is wrong, since when, what it means and what to do. ``stop``: the charge was stopped for it."""

    id: str
    level: Level
    time_s: float
    sentence: str


@dataclass(frozen=True, slots=True)
class Looks:
    """When somebody last looked, and when the next look is due. [s of the charge]"""

    looked_s: float
    due_s: float
    stop_s: float


def check_expected(e: Expected) -> Expected:
    """The expectation itself, if it is one that can be watched.

    Raises
    ------
    DomainError
        For volts above what the chemistry may be charged to, or looks too far apart.
    """
    cell = chemistry(e.chemistry)
    if e.full_cell_v > cell.full_v + 1e-9:
        raise DomainError("end_cell_v", f"{cell.name} is full at {cell.full_v:.2f} V a cell; {e.full_cell_v:.2f} V would overcharge it.")  # fmt: skip
    low, high = LOOK_EVERY_S
    if not low <= e.look_every_s <= high:
        raise DomainError("look_every_min", f"Look every {low / 60:.0f} to {high / 60:.0f} min; nobody leaves a charge alone for longer.")  # fmt: skip
    require_between("current_a", "Current", e.current_a, low=0.01, high=1000, unit="A")
    return e


def wrong_count(expected_cells: int, found_cells: int) -> str:
    """What to say when a charger finds another number of cells than the pack has; empty if they agree."""
    if found_cells == expected_cells:
        return ""
    if found_cells == 0:
        return "The charger finds no pack on this port: main plug and balance plug in?"
    return f"The charger finds {found_cells} cell{'s' * (found_cells > 1)}; the pack has {expected_cells}. Not started: wrong pack, a balance wire off, or a dead cell."  # fmt: skip


def looks(expected: Expected, looked_s: float) -> Looks:
    """The next look, and when the charge is stopped for want of one."""
    due = looked_s + expected.look_every_s
    return Looks(looked_s, due, due + LOOK_GRACE_S)


def alarms(samples: Sequence[Sample], expected: Expected, *, looked_s: float, now_s: float, silent_s: float = 0.0) -> list[Alarm]:  # fmt: skip
    """Everything that is wrong now, what stops first.

    ``now_s`` is the charge's own time, ``silent_s`` how long the charger has said nothing. The first sample and the last few
    minutes are enough.
    """
    found = [*_look(expected, looked_s, now_s), *_link(silent_s, now_s)]
    if samples:
        last = samples[-1]
        found += [*_volts(samples, expected), *_warmth(samples, expected), *_bounds(last, expected), *_supply(last, expected)]  # fmt: skip
    return sorted(found, key=lambda a: (a.level != "stop", a.time_s))


def _look(e: Expected, looked_s: float, now_s: float) -> list[Alarm]:
    times = looks(e, looked_s)
    if now_s >= times.stop_s:
        return [Alarm("unattended", "stop", now_s, f"Nobody looked for {(now_s - looked_s) / 60:.0f} min: stopped. A charge is not left alone.")]  # fmt: skip
    if now_s >= times.due_s:
        return [Alarm("look_due", "warn", now_s, f"Look now: touch the pack, see that it is cool and flat. It stops in {max(0, round((times.stop_s - now_s) / 60))} min otherwise.")]  # fmt: skip
    return []


def _link(silent_s: float, now_s: float) -> list[Alarm]:
    if silent_s < SILENT_S:
        return []
    return [Alarm("link_lost", "warn", now_s, "The charger does not answer. It goes on by itself, and cannot be stopped from here: go to it.")]  # fmt: skip


def _volts(samples: Sequence[Sample], e: Expected) -> list[Alarm]:
    first, last = samples[0], samples[-1]
    out, t, highest = [], last.time_s, max(last.cell_v)
    if chemistry(e.chemistry).charge_method == "cc_cv" and highest > e.full_cell_v + OVER_FULL_V:
        k = last.cell_v.index(highest)
        out.append(Alarm("over_full", "stop", t, f"Cell {k + 1} is at {highest:.3f} V, over its full {e.full_cell_v:.2f} V: stopped. An overcharge is how fires start."))  # fmt: skip
    if len(last.cell_v) < 2:
        return out
    before = next((s for s in reversed(samples) if s.time_s <= t - FOLLOWS_OVER_S), None)
    rises = [v - v0 for v, v0 in zip(last.cell_v, (before or first).cell_v, strict=True)]
    usual, slowest = median(rises), min(rises)
    flowing = last.current_a > TAPER_END_C * e.capacity_ah
    k = rises.index(slowest)
    fell = max(s.cell_v[k] for s in samples) - last.cell_v[k]
    # the fullest cell may stand still because it is bled; a low one may not
    low = last.cell_v[k] < median(last.cell_v)
    if before is not None and low and usual >= FOLLOWS_RISE_V and slowest < FOLLOWS_SHARE * usual:
        out.append(Alarm("not_following", "stop", t, f"Cell {k + 1} does not follow: in two minutes the others rose by {usual:.3f} V, it by {slowest:.3f} V. Stopped: the others would be overcharged."))  # fmt: skip
    elif flowing and fell >= DROP_V and last.current_a >= 0.95 * max(s.current_a for s in samples[-20:]):
        out.append(Alarm("not_following", "stop", t, f"Cell {k + 1} fell by {fell:.3f} V while charging: stopped. It may be shorting inside."))  # fmt: skip
    ahead = highest - median(last.cell_v)
    started_even = max(first.cell_v) - min(first.cell_v) < AHEAD_V
    if ahead >= AHEAD_V and started_even:
        k = last.cell_v.index(highest)
        out.append(Alarm("weak_cell", "warn", t, f"Cell {k + 1} is {ahead:.3f} V ahead of the others: it holds less or resists more. The charge waits for it; look at its resistance in the log."))  # fmt: skip
    return out


def _warmth(samples: Sequence[Sample], e: Expected) -> list[Alarm]:
    first, last = samples[0], samples[-1]
    if last.temperature_c is None or first.temperature_c is None:
        return []
    rise, now, t = last.temperature_c - first.temperature_c, last.temperature_c, last.time_s
    if chemistry(e.chemistry).charge_method == "peak":
        if now >= NIMH_HOTTEST_C:
            return [Alarm("hot", "stop", t, f"The pack is at {now:.0f} °C: stopped. NiMH warms at the end, but not so far.")]  # fmt: skip
        return []
    if rise >= HOT_K or now >= HOTTEST_C:
        return [Alarm("hot", "stop", t, f"The pack has warmed by {rise:.0f} K to {now:.0f} °C: stopped. A lithium pack stays cool while charging.")]  # fmt: skip
    if rise >= WARM_K:
        return [
            Alarm("warm", "warn", t, f"The pack has warmed by {rise:.0f} K to {now:.0f} °C. Go and touch it.")
        ]
    return []


def _bounds(last: Sample, e: Expected) -> list[Alarm]:
    out = []
    if last.mah > e.cutoff_mah:
        out.append(Alarm("cutoff", "stop", last.time_s, f"{last.mah:.0f} mAh went in, over the cut-off of {e.cutoff_mah:.0f} mAh: stopped."))  # fmt: skip
    if last.time_s > e.timer_s:
        out.append(Alarm("timer", "stop", last.time_s, f"The safety timer of {e.timer_s / 60:.0f} min has run out: stopped."))  # fmt: skip
    return out


def _supply(last: Sample, e: Expected) -> list[Alarm]:
    if last.supply_v is None or e.supply_min_v is None or last.supply_v >= e.supply_min_v:
        return []
    return [Alarm("supply_sag", "warn", last.time_s, f"The supply has sagged to {plain_number(last.supply_v)} V; the charger wants {plain_number(e.supply_min_v)} V. It will charge slower, or stop.")]  # fmt: skip
