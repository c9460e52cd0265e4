"""Watching a charge: each sample against what is expected; what to warn of, and what to stop at once.

And when somebody must look.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from statistics import median
from typing import Any, Literal

from coldstack.core.cells.chemistry import CHEMISTRIES, chemistry
from coldstack.core.cells.open_circuit import resting_voltage, soc_at_rest
from coldstack.core.charging.charge_time import TAPER_END_C
from coldstack.core.charging.margins import CUTOFF_FACTOR
from coldstack.core.errors import DomainError, require_between
from coldstack.core.readings.tolerance import over_full_for, passes_volts
from coldstack.core.units import plain_number

AlarmLevel = Literal["warn", "stop"]

ALARM_WITHIN_S = {
    "not_following": 180.0,
    "weak_cell": 600.0,
    "warm": 300.0,
    "hot": 600.0,
    "supply_sag": 10.0,
    "link_lost": 10.0,
    "over_full": 10.0,
}
"""From when a fault begins to when it is said, of the charge's own time: what shows at once within two
samples, what needs a slope within a few minutes. Measured on the simulated charger, and tested."""
LOOK_EVERY_S = (60.0, 1200.0)
"""The shortest and the longest time between looks that can be set: touch it every few minutes."""
LOOK_GRACE_S = 180.0
"""No look for so long after it was due: the charge is stopped. Unattended charging is not offered."""
LOOK = "look_due"
"""The alarm that says that somebody must look."""
WARM_K, HOT_K = 5.0, 10.0
"""LiPo stays cool while charging: so many kelvin above its start are warm, or stop it."""
HOTTEST_C, NIMH_HOTTEST_C = 45.0, 50.0
FOLLOWS_OVER_S, FOLLOWS_RISE_V, FOLLOWS_SHARE = 120.0, 0.008, 0.25
"""Where the others have risen by so much in two minutes, a low cell that rose by less than a quarter of it
does not follow."""
FOLLOWS_SHORT_V, FOLLOWS_SIGMAS = 0.004, 4.0
"""By so much it must fall short, and by so many times the scatter of its own readings. House figures."""
ABOUT_S = 25.0
"""What a cell reads is the middle of its readings in this time: one wobble of a contact says nothing."""
DROP_V, STEADY = 0.03, 0.95
"""A cell that falls by so much while at least this part of the current still flows. House figures."""
AHEAD_V, AHEAD_SOC = 0.05, 0.05
"""A cell so far ahead of the others, in volts and in the charge that they mean, will be full first: it holds
less, or its resistance is high. House figures.
"""
SILENT_S = 5.0
DOUBT_WARN_S, DOUBT_STOP_S = 15.0, 30.0
"""So long without a believable word from the charger, in its own time: an alarm; then the charge is stopped.
House figures."""
DANGERS = frozenset(("not_following", "hot", "over_full", "cutoff"))
"""Alarms that tell of something wrong with the pack: stopped for one of these it is set apart until somebody
looked at it."""


@dataclass(frozen=True, slots=True)
class Sample:
    """One report of a charger.

    ``seq`` counts from 1 without a gap, ``time_s`` from the start of the charge.
    """

    seq: int
    time_s: float
    cell_v: tuple[float, ...]
    current_a: float
    temperature_c: float | None
    mah: float
    supply_v: float | None = None
    cell_mohm: tuple[float, ...] | None = None


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
    unread: tuple[str, ...] = ()
    """Figures that could not be read back: a charge that cannot be judged is stopped."""


def expected_from(stored: Mapping[str, Any]) -> Expected:
    """What was stored of it by this or another version of the program.

    What is not known is left out. A look is due as soon as may be where nobody said when; any other figure
    that is missing makes the charge one that cannot be judged.
    """
    found: dict[str, Any] = {"look_every_s": LOOK_EVERY_S[0], "supply_min_v": None}
    unread = []
    for name in Expected.__dataclass_fields__:
        value = stored.get(name)
        if name == "chemistry":
            readable = value in CHEMISTRIES
        else:
            kind = int if name == "series" else (int, float)
            readable = isinstance(value, kind) and not isinstance(value, bool) and math.isfinite(value)
        if readable:
            found[name] = value
        elif name not in found and name != "unread":
            unread.append(name)
            found[name] = {"chemistry": "lipo", "series": 1, "capacity_ah": 1.0}.get(name, 0.0)
    return Expected(**found, unread=tuple(unread))


def left_ah(expected: Expected, time_s: float) -> float:
    """What is still to go in after so long: the cut-off without its margin, less what went in. [Ah]"""
    return max(expected.cutoff_mah / 1000 / CUTOFF_FACTOR - expected.current_a * time_s / 3600, 0.0)


@dataclass(frozen=True, slots=True)
class Alarm:
    """What is wrong, since when, what it means and what to do. ``stop``: the charge was stopped for it."""

    id: str
    level: AlarmLevel
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
    if passes_volts(e.full_cell_v, cell.full_v):
        raise DomainError(
            "end_cell_v",
            f"{cell.name} is full at {cell.full_v:.2f} V a cell; {e.full_cell_v:.2f} V would overcharge it.",
        )
    low, high = LOOK_EVERY_S
    if not low <= e.look_every_s <= high:
        raise DomainError(
            "look_every_min",
            f"Look every {low / 60:.0f} to {high / 60:.0f} min; nobody leaves a charge alone for longer.",
        )
    require_between("current_a", "Current", e.current_a, low=0.01, high=1000, unit="A")
    return e


def wrong_count(expected_cells: int, found_cells: int) -> str:
    """What to say when a charger finds another number of cells than the pack has; empty if they agree."""
    if found_cells == expected_cells:
        return ""
    if found_cells == 0:
        return "The charger finds no pack on this port: main plug and balance plug in?"
    return (
        f"The charger finds {found_cells} cell{'s' * (found_cells > 1)}; the pack has "
        f"{expected_cells}. Not started: wrong pack, a balance wire off, or a dead cell."
    )


def looks(expected: Expected, looked_s: float) -> Looks:
    """The next look, and when the charge is stopped for want of one."""
    due = looked_s + expected.look_every_s
    return Looks(looked_s, due, due + LOOK_GRACE_S)


def alarms(
    samples: Sequence[Sample],
    expected: Expected,
    *,
    looked_s: float,
    now_s: float,
    silent_s: float = 0.0,
    doubt_s: float = 0.0,
    doubt: str = "",
) -> list[Alarm]:
    """Everything that is wrong now, what stops first.

    ``now_s`` is the charge's own time, ``silent_s`` how long the charger has said nothing, ``doubt_s`` for
    how much of its own time it has said nothing believable, and ``doubt`` what was not. The first sample and
    the last few minutes are enough.
    """
    unsaid = [*_link(silent_s, now_s), *_doubted(doubt_s, doubt, now_s)]
    if expected.unread:
        # nothing else can be said of it: no figure to judge it by is to be trusted
        return [*_unread(now_s), *unsaid]
    found = [*_look(expected, looked_s, now_s), *unsaid]
    if samples:
        last = samples[-1]
        found += [
            *_volts(samples, expected),
            *_warmth(samples, expected),
            *_bounds(last, expected),
            *_supply(last, expected),
        ]
    return sorted(found, key=lambda a: (a.level != "stop", a.time_s))


def _unread(now_s: float) -> list[Alarm]:
    words = "What this charge was set to cannot be read any more, so nobody can watch it. Start it anew."
    return [Alarm("unread", "stop", now_s, words)]


def _look(e: Expected, looked_s: float, now_s: float) -> list[Alarm]:
    times = looks(e, looked_s)
    if now_s >= times.stop_s:
        return [
            Alarm(
                "unattended",
                "stop",
                now_s,
                f"Nobody looked for {(now_s - looked_s) / 60:.0f} min: stopped. A charge is not left alone.",
            )
        ]
    if now_s >= times.due_s:
        return [
            Alarm(
                LOOK,
                "warn",
                now_s,
                "Look now: touch the pack, see that it is cool and flat. It stops in "
                f"{max(0, round((times.stop_s - now_s) / 60))} min otherwise.",
            )
        ]
    return []


def _link(silent_s: float, now_s: float) -> list[Alarm]:
    if silent_s < SILENT_S:
        return []
    return [
        Alarm(
            "link_lost",
            "warn",
            now_s,
            "The charger does not answer. It goes on by itself, and cannot be stopped from here: go to it.",
        )
    ]


def _doubted(doubt_s: float, doubt: str, now_s: float) -> list[Alarm]:
    if doubt_s < DOUBT_WARN_S:
        return []
    what = f" ({doubt})" if doubt else ""
    words = f"For {doubt_s:.0f} s the charger has said nothing that can be believed{what}."
    if doubt_s < DOUBT_STOP_S:
        return [Alarm("unbelievable", "warn", now_s, f"{words} Go to it and look at the pack.")]
    return [Alarm("unbelievable", "stop", now_s, f"{words} Stopped: nobody knows what it does.")]


def unconfirmed(now_s: float) -> Alarm:
    """A stop that the charger did not confirm."""
    words = "It could not be stopped from here. Pull the charger’s plug now, then look at the pack."
    return Alarm("pull_plug", "stop", now_s, words)


AWAY_S = 60.0
"""So long in the charge's own time without the watch is told: it slept, or was not running. House figure."""


def away(gap_s: float, now_s: float) -> Alarm:
    """The watch itself was away."""
    words = (
        f"Nobody watched this charge for {max(1, round(gap_s / 60))} min: this machine slept, or the program "
        "was not running. Look at it now."
    )
    return Alarm("away", "warn", now_s, words)


def _volts(samples: Sequence[Sample], e: Expected) -> list[Alarm]:
    found = _over_full(samples[-1], e)
    if len(samples[-1].cell_v) > 1:
        found += [*_not_following(samples, e), *_ahead(samples, e)]
    return found


def _over_full(last: Sample, e: Expected) -> list[Alarm]:
    highest = max(last.cell_v)
    if chemistry(e.chemistry).charge_method != "cc_cv" or not over_full_for(e.full_cell_v, highest):
        return []
    words = (
        f"Cell {last.cell_v.index(highest) + 1} is at {highest:.3f} V, over its full {e.full_cell_v:.2f} V: "
        "stopped. An overcharge is how fires start."
    )
    return [Alarm("over_full", "stop", last.time_s, words)]


def _not_following(samples: Sequence[Sample], e: Expected) -> list[Alarm]:
    """A low cell that rises far less than the others, by more than its meter's noise; or one that falls
    while charge flows."""
    last = samples[-1]
    late, early = _cells_about(samples, last.time_s), _cells_about(samples, last.time_s - FOLLOWS_OVER_S)
    if early:
        rises = [v - v0 for v, v0 in zip(late, early, strict=True)]
        usual, slowest = median(rises), min(rises)
        k = rises.index(slowest)
        # the fullest cell may stand still because it is bled; a low one may not
        low = late[k] < median(late)
        short_v = max(FOLLOWS_SHORT_V, FOLLOWS_SIGMAS * _scatter(samples, k))
        due = min(usual, _rise_due(samples, e, early[k]))
        if low and due >= FOLLOWS_RISE_V and slowest < FOLLOWS_SHARE * due and due - slowest >= short_v:
            words = (
                f"Cell {k + 1} does not follow: in two minutes the others rose by {usual:.3f} V, it by "
                f"{slowest:.3f} V. Stopped: the others would be overcharged."
            )
            return [Alarm("not_following", "stop", last.time_s, words)]
    return _falling(samples, e)


def _rise_due(samples: Sequence[Sample], e: Expected, cell_v: float) -> float:
    """By how much a cell at this voltage rises in two minutes by what flows, at least: on a plateau it hardly
    does, while others may have left it. [V]"""
    put_in = FOLLOWS_OVER_S / 3600 * samples[-1].current_a / e.capacity_ah
    now = soc_at_rest(e.chemistry, cell_v)
    # under current it reads higher than its charge: somewhere in this range it is
    places = [max(now - back, 0.0) for back in (0.0, 0.05, 0.1, 0.15)]
    rises = [
        resting_voltage(e.chemistry, min(z + put_in, 1.0)) - resting_voltage(e.chemistry, z) for z in places
    ]
    return float(min(rises))


def _falling(samples: Sequence[Sample], e: Expected) -> list[Alarm]:
    """A low cell that falls while the same current flows, in two readings one after the other. Less current
    lowers every cell by what its resistance took."""
    last = samples[-1]
    if last.current_a <= TAPER_END_C * e.capacity_ah:
        return []
    if last.current_a < STEADY * max(s.current_a for s in samples[-20:]):
        return []
    alike = [s for s in samples if STEADY * s.current_a <= last.current_a]
    for k, volts in enumerate(last.cell_v):
        fell = max(s.cell_v[k] for s in alike) - max(s.cell_v[k] for s in samples[-2:])
        if fell >= DROP_V and volts < median(last.cell_v):
            words = f"Cell {k + 1} fell by {fell:.3f} V while charging: stopped. It may be shorting inside."
            return [Alarm("not_following", "stop", last.time_s, words)]
    return []


def _cells_about(samples: Sequence[Sample], time_s: float) -> list[float]:
    """Each cell in the middle of what it read in the half minute up to then; empty without a sample of it."""
    near = [s.cell_v for s in samples if time_s - ABOUT_S <= s.time_s <= time_s]
    return [median(cell) for cell in zip(*near, strict=True)]


def _scatter(samples: Sequence[Sample], k: int) -> float:
    """How much a cell's reading jumps from one to the next, as a standard deviation. [V]"""
    jumps = [abs(b.cell_v[k] - a.cell_v[k]) for a, b in pairwise(samples[1:])]
    return median(jumps) / (0.6745 * math.sqrt(2)) if jumps else 0.0


def _ahead(samples: Sequence[Sample], e: Expected) -> list[Alarm]:
    first, last = samples[0], samples[-1]
    cells = _cells_about(samples, last.time_s)
    highest, middle = max(cells), median(cells)
    ahead = highest - middle
    if ahead < AHEAD_V or max(first.cell_v) - min(first.cell_v) >= AHEAD_V:
        return []
    # where the volts run up steeply, a little charge makes many of them
    if soc_at_rest(e.chemistry, highest) - soc_at_rest(e.chemistry, middle) < AHEAD_SOC:
        return []
    words = (
        f"Cell {cells.index(highest) + 1} is {ahead:.3f} V ahead of the others: it holds less or "
        "resists more. The charge waits for it; look at its resistance in the log."
    )
    return [Alarm("weak_cell", "warn", last.time_s, words)]


def _warmth(samples: Sequence[Sample], e: Expected) -> list[Alarm]:
    first, last = samples[0], samples[-1]
    if last.temperature_c is None or first.temperature_c is None:
        return []
    rise, now, t = last.temperature_c - first.temperature_c, last.temperature_c, last.time_s
    if chemistry(e.chemistry).charge_method == "peak":
        if now >= NIMH_HOTTEST_C:
            return [
                Alarm(
                    "hot",
                    "stop",
                    t,
                    f"The pack is at {now:.0f} °C: stopped. NiMH warms at the end, but not so far.",
                )
            ]
        return []
    if rise >= HOT_K or now >= HOTTEST_C:
        return [
            Alarm(
                "hot",
                "stop",
                t,
                f"The pack has warmed by {rise:.0f} K to {now:.0f} °C: stopped. A lithium pack stays cool "
                "while charging.",
            )
        ]
    if rise >= WARM_K:
        return [
            Alarm("warm", "warn", t, f"The pack has warmed by {rise:.0f} K to {now:.0f} °C. Go and touch it.")
        ]
    return []


def _bounds(last: Sample, e: Expected) -> list[Alarm]:
    out = []
    if last.mah > e.cutoff_mah:
        out.append(
            Alarm(
                "cutoff",
                "stop",
                last.time_s,
                f"{last.mah:.0f} mAh went in, over the cut-off of {e.cutoff_mah:.0f} mAh: stopped.",
            )
        )
    if last.time_s > e.timer_s:
        out.append(
            Alarm(
                "timer",
                "stop",
                last.time_s,
                f"The safety timer of {e.timer_s / 60:.0f} min has run out: stopped.",
            )
        )
    return out


def _supply(last: Sample, e: Expected) -> list[Alarm]:
    if last.supply_v is None or e.supply_min_v is None or last.supply_v >= e.supply_min_v:
        return []
    return [
        Alarm(
            "supply_sag",
            "warn",
            last.time_s,
            f"The supply has sagged to {plain_number(last.supply_v)} V; the charger wants "
            f"{plain_number(e.supply_min_v)} V. It will charge slower, or stop.",
        )
    ]
