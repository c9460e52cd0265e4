"""What a log tells of a model: average, RMS, peak, and a typical cycle of phases."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from coldstack.core.draw.duty import Phase
from coldstack.core.draw.motion import Motion
from coldstack.core.errors import DomainError
from coldstack.core.logs.numbers import Floats
from coldstack.core.logs.reader import WattLog
from coldstack.core.logs.table import FIELD

IDLE_SHARE = 0.03
"""Below this share of the highest current the model is taken to be standing; such ends of the log are cut
off."""
PEAK_LASTS_S = 1.0
"""A peak shorter than this is switch-on current or noise. House figure."""
DISTINCT_PEAK = 1.4
"""Current of the peaks over that of the rest, from which two phases tell more than one average."""
PREVIEW_POINTS = 400


@dataclass(frozen=True, slots=True)
class FoundDraw:
    """The draw found in a log. Currents in A, volts under load in V; ``spread`` from thirds of the log
    against each other.

    ``preview_*`` are thinned samples for drawing, ``level_a`` the phases' current at the same times.
    """

    duration_s: float
    average_a: float
    rms_a: float
    peak_a: float
    longest_peak_s: float
    peak_every_s: float | None
    used_mah: float
    mean_voltage_v: float
    spread: float
    phases: tuple[Phase, ...]
    preview_min: list[float]
    preview_a: list[float]
    preview_v: list[float]
    level_a: list[float]


def found_draw(log: WattLog, motion: Motion) -> FoundDraw:
    """Average, RMS, peak and a typical cycle of a log.

    Samples count for the time to the next one. The current is split in two levels where that explains it
    best (Otsu 1979); if the upper is distinctly higher, its runs are the peaks and the cycle is one gentle
    and one peak phase of mean length, which keeps the average. Otherwise one phase. Standing at either end
    is left out.

    Raises
    ------
    DomainError
        For a log without any current.
    """
    time_s, volts, amps = _running_part(log)
    weight = np.diff(time_s, append=time_s[-1] + float(np.median(np.diff(time_s))))
    total_s = float(weight.sum())
    average = float((amps * weight).sum() / total_s)
    high = _upper_level(amps, weight)
    runs = _runs(high, weight)
    phases = _cycle(amps, weight, high, runs, motion)
    every = total_s / len(runs) if len(phases) == 2 else None
    level = np.where(high, phases[-1].current_a, phases[0].current_a)
    thin = np.linspace(0, len(amps) - 1, min(PREVIEW_POINTS, len(amps))).astype(int)
    return FoundDraw(
        duration_s=total_s,
        average_a=average,
        rms_a=float(np.sqrt((amps**2 * weight).sum() / total_s)),
        peak_a=max(p.current_a for p in phases),
        longest_peak_s=max((r for r in runs), default=0.0) if every else 0.0,
        peak_every_s=every,
        used_mah=average * total_s / 3.6,
        mean_voltage_v=float((volts * weight).sum() / total_s),
        spread=_spread(amps, weight),
        phases=phases,
        preview_min=(time_s[thin] / 60).tolist(),
        preview_a=amps[thin].tolist(),
        preview_v=volts[thin].tolist(),
        level_a=level[thin].tolist(),
    )


def _running_part(log: WattLog) -> tuple[Floats, Floats, Floats]:
    busy = np.flatnonzero(log.current_a > IDLE_SHARE * np.max(log.current_a))
    if not len(busy) or np.max(log.current_a) < 0.05:
        raise DomainError(FIELD, "The log shows no current. Is the current column the right one?")
    part = slice(int(busy[0]), int(busy[-1]) + 1)
    if part.stop - part.start < 3:
        raise DomainError(
            FIELD, "The log shows current for a moment only; at least a few seconds are needed."
        )
    return log.time_s[part], log.voltage_v[part], log.current_a[part]


def _upper_level(amps: Floats, weight: Floats) -> np.ndarray:
    """Which samples belong to the upper of two levels: the split with the largest variance between them."""
    counts, edges = np.histogram(amps, bins=128, weights=weight)
    middle = (edges[:-1] + edges[1:]) / 2
    below, above = np.cumsum(counts), counts.sum() - np.cumsum(counts)
    sum_below = np.cumsum(counts * middle)
    with np.errstate(divide="ignore", invalid="ignore"):
        gap = sum_below / below - (sum_below[-1] - sum_below) / above
        between = np.nan_to_num(below * above * gap**2)
    return np.asarray(amps > edges[int(np.argmax(between)) + 1])


def _runs(high: np.ndarray, weight: Floats) -> list[float]:
    """Lengths of the unbroken stretches of the upper level that last long enough. [s]"""
    edges = np.flatnonzero(np.diff(np.concatenate(([False], high, [False])).astype(int)))
    ends = np.concatenate(([0.0], np.cumsum(weight)))
    lengths = ends[edges[1::2]] - ends[edges[::2]]
    return [float(x) for x in lengths if x >= PEAK_LASTS_S]


def _cycle(
    amps: Floats, weight: Floats, high: np.ndarray, runs: list[float], motion: Motion
) -> tuple[Phase, ...]:
    total_s, average = float(weight.sum()), float((amps * weight).sum() / weight.sum())
    single = (Phase(min(max(total_s, 1.0), 60.0), motion.base_hold, average),)
    if not runs or high.all():
        return single
    peak_a = float((amps * weight)[high].sum() / weight[high].sum())
    base_a = float((amps * weight)[~high].sum() / weight[~high].sum())
    if peak_a < DISTINCT_PEAK * base_a:
        return single
    peak_s = float(weight[high].sum()) / len(runs)
    base_s = float(weight[~high].sum()) / len(runs)
    return (Phase(max(base_s, 0.1), motion.base_hold, base_a), Phase(max(peak_s, 0.1), "throttle", peak_a))


def _spread(amps: Floats, weight: Floats) -> float:
    """How much thirds of the log differ in their average, half of the largest difference over the mean; 3 to
    30 %."""
    parts = [
        (a * w).sum() / w.sum()
        for a, w in zip(np.array_split(amps, 3), np.array_split(weight, 3), strict=True)
        if len(a) and w.sum() > 0
    ]
    mean = float(np.mean(parts))
    return float(np.clip((max(parts) - min(parts)) / 2 / mean, 0.03, 0.30)) if mean > 0 else 0.10
