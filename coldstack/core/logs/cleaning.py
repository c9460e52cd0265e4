"""Samples put in order: scales that the figures tell, runs in one file, pauses, several rows to one tick,
lone spikes."""

from __future__ import annotations

import numpy as np

from coldstack.core.errors import DomainError
from coldstack.core.logs.numbers import DAY_S, Floats
from coldstack.core.logs.table import FEWEST_ROWS, FIELD

LONGEST_LOG_S = 24 * 3600.0
LIKELY_S = 5.0, 3 * 3600.0
"""Lengths that a run of a model has; a bare count that makes one only as milliseconds is read so."""
MOST_V, MOST_A = 130.0, 2000.0
SPIKE = 2.0
"""A sample this many times above all others is no current but a slip of the meter."""
NEAR = 4
"""Rows on either side of a spike that must be free of anything like it."""
SPIKES_A_RUN = 3
PAUSE_S = 20.0
"""A gap this long, and many times the usual step, is a pause: nobody knows what was drawn in it."""

Samples = tuple[Floats, Floats, Floats]


def cleaned(time_s: Floats, volts: Floats, amps: Floats, notes: list[str], *, free_scale: bool) -> Samples:
    """Samples in order of time from zero on, with ``notes`` of what was done.

    Parameters
    ----------
    time_s, volts, amps : (T,)
        As read. [s], [V], [A]
    free_scale : bool
        Nobody gave the unit of time: seconds unless only milliseconds make a likely run.

    Raises
    ------
    DomainError
        For times that do not move on, and figures beyond any model.
    """
    time_s, volts, amps = _longest_run(time_s, volts, amps, notes)
    order = np.argsort(time_s, kind="stable")
    time_s, volts, amps = time_s[order] - time_s[order][0], volts[order], amps[order]
    if not time_s[-1] > 0:
        raise DomainError(FIELD, "The time column does not move on; it should count seconds.")
    time_s = _scaled_time(time_s, notes) if free_scale else time_s
    time_s = _spread_ticks(time_s)
    time_s = _without_pauses(time_s, notes)
    if time_s[-1] > LONGEST_LOG_S:
        words = f"The log lasts {time_s[-1] / 3600:.0f} hours. Is the time column in milliseconds?"
        raise DomainError(FIELD, f"{words} Choose its unit.")
    if np.median(amps) < 0:
        amps = -amps  # meters count discharge either way
    volts = _milli(volts, MOST_V, "volts", "V", notes)
    amps = _milli(amps, MOST_A, "amps", "A", notes)
    keep = _no_spikes(volts, amps, notes)
    time_s, volts, amps = time_s[keep], volts[keep], amps[keep]
    _require_likely(volts, amps)
    return time_s, volts, np.maximum(amps, 0.0)


def _require_likely(volts: Floats, amps: Floats) -> None:
    if not 0 < np.median(volts) < MOST_V:
        words = f"The volts are about {np.median(volts):.0f}; choose the column of the pack’s volts"
        raise DomainError(FIELD, f"{words}, and its unit.")
    most = np.max(np.abs(amps))
    if most > MOST_A:
        words = f"The amps reach {most:.0f}; is the column in milliamps? Choose its unit."
        raise DomainError(FIELD, words)


def _longest_run(time_s: Floats, volts: Floats, amps: Floats, notes: list[str]) -> Samples:
    """Where the time starts again the file holds several runs: the longest is read."""
    span = float(np.max(time_s) - np.min(time_s))
    cuts = np.flatnonzero(np.diff(time_s) < -0.2 * span) + 1
    if span <= 0 or not 1 <= len(cuts) <= 50:
        return time_s, volts, amps
    parts = np.split(np.arange(len(time_s)), cuts)
    best = max(parts, key=lambda p: (len(p), -p[0]))
    if len(best) < FEWEST_ROWS:
        return time_s, volts, amps
    notes.append(
        f"The time starts again {len(cuts)} time{'s' * (len(cuts) > 1)}: the longest of "
        f"{len(parts)} runs is read."
    )
    return time_s[best], volts[best], amps[best]


def _scaled_time(time_s: Floats, notes: list[str]) -> Floats:
    """Seconds, unless a count without a unit makes a likely run only as milliseconds or less, or as a
    spreadsheet's days."""
    low, high = LIKELY_S
    for scale, words in ((1.0, ""), (1e-3, "milliseconds"), (1e-6, "microseconds"), (DAY_S, "days")):
        if low <= time_s[-1] * scale <= high:
            if words:
                notes.append(
                    f"The time has no unit; a run of {time_s[-1] * scale / 60:.1f} min is read, in {words}."
                )
            return time_s * scale
    return time_s


def _spread_ticks(time_s: Floats) -> Floats:
    """Rows of one tick, spread evenly up to the next: a clock of whole seconds beside five samples in
    each."""
    ticks, first, counts = np.unique(time_s, return_index=True, return_counts=True)
    if counts.max() == 1 or len(ticks) < 2:
        return time_s
    steps = np.append(np.diff(ticks), np.median(np.diff(ticks)))
    steps = np.minimum(steps, np.median(steps))
    place = np.arange(len(time_s)) - np.repeat(first, counts)
    size = np.repeat(counts, counts)
    return np.repeat(ticks, counts) + np.repeat(steps, counts) * place / size


def _without_pauses(time_s: Floats, notes: list[str]) -> Floats:
    steps = np.diff(time_s)
    usual = float(np.median(steps))
    gaps = (steps > PAUSE_S) & (steps > 20 * max(usual, 1e-9))
    if not gaps.any():
        return time_s
    count, lost = int(gaps.sum()), float((steps[gaps] - usual).sum())
    notes.append(f"{count} pause{'s' * (count > 1)} without samples, {lost:.0f} s in all, left out.")
    return np.concatenate(([0.0], np.cumsum(np.where(gaps, usual, steps))))


def _milli(values: Floats, most: float, name: str, unit: str, notes: list[str]) -> Floats:
    """Figures a thousand times too large for any model are in thousandths."""
    middle = float(np.percentile(np.abs(values), 90))
    if middle <= most or middle > 1000 * most:
        return values
    notes.append(f"The {name} are about {middle:,.0f}: read as m{unit}.")
    return values / 1000


def _no_spikes(volts: Floats, amps: Floats, notes: list[str]) -> np.ndarray:
    """Which samples are no lone spike: a row or two far above everything else in the log, with nothing
    like it beside it."""
    keep = np.ones(len(amps), bool)
    for values, unit in ((np.abs(amps), "A"), (volts, "V")):
        order = np.argsort(values)[::-1][: SPIKES_A_RUN + 1]
        for count in range(min(SPIKES_A_RUN, len(values) - FEWEST_ROWS), 0, -1):
            top, rest = order[:count], values[order[count]]
            apart = all(
                np.all(np.delete(values[max(0, k - NEAR) : k + NEAR + 1], min(k, NEAR)) <= values[k] / SPIKE)
                for k in top
            )
            if rest > 0 and values[top].min() > SPIKE * rest and apart:
                keep[top] = False
                told = ", ".join(f"{values[k]:,.0f} {unit}" for k in top)
                notes.append(
                    f"{count} lone sample{'s' * (count > 1)} of {told} left out: nothing near it comes close."
                )
                break
    return keep
