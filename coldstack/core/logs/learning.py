"""What a watt-meter log with volts tells of the pack that was in it: its R0, slow part and true Ah, with
their uncertainty.

The log's own amps are run through the same circuit as everything else, and four figures are moved until the
volts agree (Levenberg and Marquardt on their logarithms). Residuals follow each other, so they count for
fewer than they are; what the curve of resting volts and the temperature leave open is added. What the log
does not excite is not told.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import soc_at_rest
from coldstack.core.cells.resistance import SLOW_PARTS
from coldstack.core.chain.own_plugs import plug_column
from coldstack.core.discharge.batch import Floats, PackColumns, Surroundings, box_area_m2
from coldstack.core.discharge.simulate import traced
from coldstack.core.draw.found import IDLE_SHARE
from coldstack.core.draw.scaling import PhaseLoad
from coldstack.core.errors import DomainError
from coldstack.core.logs.reader import WattLog
from coldstack.core.logs.table import FIELD
from coldstack.core.packs.measured import LOG_SPREAD, both
from coldstack.core.packs.pack import LogFindings, Pack
from coldstack.core.trial.candidates import from_packs
from coldstack.core.trial.unknowns import OCV_SPREAD_V, SLOW_SPREAD, TEMPERATURE_SPREAD_K
from coldstack.core.units import DEG, WARMER, plain_number
from coldstack.core.working import Step, Working

MOST_STEPS = 1200
"""A log is brought to so many stretches, each with its mean current."""
LEAST_REST_S = 2.0
"""Standing before the run for so long shows the resting volts it began with."""
RESISTANCE, SLOW, TIME, CAPACITY, START = range(5)
"""Figures that are moved: the logarithms of four, and the charge that it began with, where no rest shows it.
"""
MOST_UNSURE = {RESISTANCE: 0.15, SLOW: 0.30, TIME: 0.40, CAPACITY: 0.05, START: 0.15}
"""Relative uncertainty (one standard deviation) beyond which a figure is not told. House figures."""
LEAST_USED = 0.3
"""A log of less than this share of the charge tells no capacity. House figure."""
WORST_FIT_V = 0.06
"""Volts a cell, RMS, beyond which the log is not of this pack, or its volts not of its terminals."""
STANDARD_AIR = Surroundings()
UNRESTED_SOC = 0.9
ROUNDS, FIRST_DAMPING, STEP_FOR_SLOPE = 30, 1e-3, 1e-3


@dataclass(frozen=True, slots=True)
class LogFit:
    """What a log teaches of a pack, how well the circuit then follows it [V a cell, RMS], and what it does
    not tell."""

    learnt: LogFindings
    fit_v: float
    untold: tuple[str, ...]
    working: Working


@dataclass(frozen=True, slots=True)
class _Run:
    """The log in stretches: seconds and mean amps of each, and the volts a cell that were read.

    ``soc`` it began with.
    """

    seconds: Floats
    amps: Floats
    cell_v: Floats
    soc: float
    rested: bool


def learn(log: WattLog, pack: Pack, *, air_c: float, source: str) -> LogFit:
    """R0, slow part and capacity of this pack by a log of one of its runs; ``source`` is what they are
    to be named after.

    Raises
    ------
    DomainError
        For a log that is not of such a pack, or that tells not even its resistance.
    """
    if chemistry(pack.chemistry).charge_method == "peak":
        raise DomainError(FIELD, "The volts of NiMH depend too much on its past to learn from a log.")
    run = _stretches(log, pack)
    columns = _columns(pack, run.soc, air_c)
    used = float((run.amps * run.seconds).sum()) / 3600 / pack.capacity_ah
    free, untold = _to_tell(run, used)
    found, unsure, free = _sure_ones(run, columns, free, untold)
    fit_v = float(np.sqrt(np.mean(_misses(run, columns, found) ** 2)))
    if fit_v > WORST_FIT_V:
        words = f"The volts differ by {1000 * fit_v:.0f} mV a cell from any such pack. "
        raise DomainError(FIELD, words + "Is it the right pack, and were the volts read at it?")
    learnt = _learnt(pack, columns, source, found, unsure, free)
    return LogFit(
        learnt,
        fit_v,
        tuple(untold),
        _working(learnt, run, float(np.clip(run.soc + found[START], 0.05, 1)), used, fit_v),
    )


def _to_tell(run: _Run, used: float) -> tuple[list[int], list[str]]:
    """What such a log may tell, and in words what it cannot; ``used`` is the share of the capacity that it
    takes."""
    if not run.rested:
        words = "its slow part and capacity: the log begins under load, with no rest before it"
        return [RESISTANCE, START], [words]
    if used < LEAST_USED:
        share = f"the log takes {100 * used:.0f} % of it, and {100 * LEAST_USED:.0f} % are needed"
        return [RESISTANCE, SLOW, TIME], [f"its capacity: {share}"]
    return [RESISTANCE, SLOW, TIME, CAPACITY], []


def _sure_ones(
    run: _Run, columns: PackColumns, free: list[int], untold: list[str]
) -> tuple[Floats, dict[int, float], list[int]]:
    """The fit, how unsure each figure is, and which are left: what is too unsure is taken as usual, and
    added in words to ``untold``."""
    while True:
        found = _fitted(run, columns, free)
        unsure = _unsure(run, columns, free, found)
        worst = max(free, key=lambda k: unsure[k] / MOST_UNSURE[k])
        if unsure[worst] <= MOST_UNSURE[worst]:
            return found, unsure, free
        if worst in (RESISTANCE, START):
            raise DomainError(
                FIELD, "The current changes too little to tell the pack’s resistance from its volts."
            )
        if worst == CAPACITY:
            free = [k for k in free if k != CAPACITY]
            untold.append("its capacity: the volts fall too little for it")
        else:
            free = [k for k in free if k not in (SLOW, TIME)]
            untold.append("its slow part: the current is too steady, or changes too quickly")


def _learnt(
    pack: Pack, columns: PackColumns, source: str, found: Floats, unsure: dict[int, float], free: list[int]
) -> LogFindings:
    usual, told = SLOW_PARTS[pack.chemistry], SLOW in free
    ah = pack.capacity_ah * float(np.exp(found[CAPACITY])) if CAPACITY in free else None
    mohm = float(columns.cell_mohm[0] * np.exp(found[RESISTANCE]))
    assert columns.slow_mohm is not None
    slow_mohm = float(columns.slow_mohm[0] * np.exp(found[SLOW]))
    return LogFindings(
        source=source,
        cell_mohm=mohm,
        # the circuit is not the cell: no log is surer than logs of one pack agree
        resistance_spread=both(2 * unsure[RESISTANCE], LOG_SPREAD),
        # of the resistance that the log found beside it
        slow_ratio=slow_mohm / mohm if told else None,
        slow_s=usual.time_constant_s * float(np.exp(found[TIME])) if told else None,
        slow_spread=2 * max(unsure[SLOW], unsure[TIME]) if told else None,
        capacity_ah=ah,
        capacity_spread=2 * unsure[CAPACITY] if ah else None,
    )


def _stretches(log: WattLog, pack: Pack) -> _Run:
    """The run of the log and what follows it, brought to at most MOST_STEPS stretches."""
    time_s, volts, amps = log.time_s, log.voltage_v / pack.series, np.maximum(log.current_a, 0.0)
    busy = np.flatnonzero(amps > IDLE_SHARE * np.max(amps))
    if len(busy) < 10 or not np.max(amps) > 0.05:
        raise DomainError(FIELD, "The log shows too little current to learn from.")
    cell = chemistry(pack.chemistry)
    first = int(busy[0])
    rest = time_s <= time_s[first] - 1e-9
    rested = bool(rest.sum() >= 2 and time_s[first] - time_s[0] >= LEAST_REST_S)
    start_v = float(np.median(volts[rest])) if rested else cell.full_v
    if not cell.empty_rest_v - 0.1 < start_v < cell.full_v + 0.1 or np.max(volts) > cell.full_v + 0.1:
        has = f"{pack.name} has {pack.series} cells in series"
        words = f"It begins at {plain_number(start_v * pack.series)} V; {has}. Is it the right pack?"
        raise DomainError(FIELD, words)
    t = time_s[first:]
    seconds = np.diff(t, append=t[-1] + float(np.median(np.diff(t))))
    each = max(1, -(-len(t) // MOST_STEPS))
    edges = np.arange(0, len(t), each)
    long = np.add.reduceat(seconds, edges)
    mean = [np.add.reduceat(x[first:] * seconds, edges) / long for x in (amps, volts)]
    # without a rest the search begins a little below full, so that it can go either way
    soc = soc_at_rest(pack.chemistry, start_v) if rested else UNRESTED_SOC
    return _Run(long, mean[0], mean[1], soc, rested)


def _columns(pack: Pack, soc: float, air_c: float) -> PackColumns:
    """The pack as the circuit takes it, from where the log began to empty, with nothing to stop it."""
    c = from_packs([replace(pack, learnt=None)], "cautious")
    one, usual = np.ones(1), SLOW_PARTS[pack.chemistry]
    return PackColumns(
        chemistry_index=c.chemistry_index,
        series=c.series,
        capacity_ah=c.capacity_ah,
        cell_mohm=c.cell_mohm,
        outside_mohm=c.outside_mohm + plug_column("resistance_mohm")[c.plug_index],
        mass_g=c.mass_g,
        area_m2=box_area_m2(c.length_mm, c.width_mm, c.height_mm, c.mass_g),
        start_soc=soc * one,
        landing_soc=0.0 * one,
        alarm_cell_v=0.1 * one,
        cutoff_cell_v=0.1 * one,
        slow_mohm=c.slow_mohm,
        slow_s=usual.time_constant_s * one,
        ocv_shift_v=0.0 * one,
        warmer_k=(air_c - STANDARD_AIR.air_c) * one,
    )


def _volts(run: _Run, columns: PackColumns, figures: Sequence[Floats]) -> list[Floats]:
    """Volts a cell of every stretch, by the circuit, for some sets of figures (their logarithms); run side
    by side."""
    n = len(figures)
    told = np.array(figures)
    x = np.exp(told)
    many = columns.take(np.zeros(n, int))
    assert many.slow_mohm is not None and many.slow_s is not None
    many = replace(
        many,
        cell_mohm=many.cell_mohm * x[:, RESISTANCE],
        slow_mohm=many.slow_mohm * x[:, SLOW],
        slow_s=many.slow_s * x[:, TIME],
        capacity_ah=many.capacity_ah * x[:, CAPACITY],
        start_soc=np.clip(many.start_soc + told[:, START], 0.05, 1.0),
    )
    loads = [PhaseLoad(float(s), "amps", np.full(n, a)) for s, a in zip(run.seconds, run.amps, strict=True)]
    starts = np.concatenate([[0.0], np.cumsum(run.seconds)])
    _, traces = traced(many, loads, STANDARD_AIR, longest_run_s=float(starts[-1]) - 1e-6)
    out = []
    for trace in traces:
        if not len(trace.time_s):
            out.append(np.zeros(len(run.seconds)))
            continue
        first = np.searchsorted(trace.time_s, starts[:-1] + 1e-7, side="right") - 1
        last = np.minimum(np.append(first[1:] - 1, len(trace.time_s) - 1), len(trace.time_s) - 1)
        volts = (trace.voltage_v[first] + trace.voltage_v[np.maximum(last, first)]) / 2 / columns.series[0]
        # a set of figures with which the pack would be empty before the log ends is far off
        out.append(np.where(starts[:-1] <= trace.time_s[-1] + 1e-6, volts, 0.0))
    return out


def _misses(run: _Run, columns: PackColumns, found: Floats) -> Floats:
    return _volts(run, columns, [found])[0] - run.cell_v


def _fitted(run: _Run, columns: PackColumns, free: Sequence[int]) -> Floats:
    """The logarithms of the free figures over the usual ones at which the squared misses are least."""
    at, damping = np.zeros(5), FIRST_DAMPING
    misses, slopes = _slopes(run, columns, free, at)
    for _ in range(ROUNDS):
        normal, downhill = slopes.T @ slopes, -slopes.T @ misses
        step = np.linalg.solve(normal + damping * np.diag(np.diag(normal) + 1e-12), downhill)
        tried = at.copy()
        tried[list(free)] += np.clip(step, -1.0, 1.0)
        tried = np.clip(tried, -3.0, 3.0)
        new = _misses(run, columns, tried)
        if (new**2).sum() < (misses**2).sum():
            gain = 1 - (new**2).sum() / (misses**2).sum()
            at, damping = tried, damping / 5
            misses, slopes = _slopes(run, columns, free, at)
            if gain < 1e-6:
                break
        else:
            damping *= 10
            if damping > 1e8:
                break
    return at


def _slopes(run: _Run, columns: PackColumns, free: Sequence[int], at: Floats) -> tuple[Floats, Floats]:
    sets = [at] + [at + STEP_FOR_SLOPE * (np.arange(5) == k) for k in free]
    here, *there = _volts(run, columns, sets)
    return here - run.cell_v, np.stack([(v - here) / STEP_FOR_SLOPE for v in there], axis=1)


def _unsure(run: _Run, columns: PackColumns, free: Sequence[int], found: Floats) -> dict[int, float]:
    """Relative uncertainty of each free figure, one standard deviation: scatter, resting curve and
    temperature together."""
    misses, slopes = _slopes(run, columns, free, found)
    follows = (
        float(np.clip(np.corrcoef(misses[:-1], misses[1:])[0, 1], 0.0, 0.99)) if len(misses) > 3 else 0.0
    )
    variance = (misses**2).sum() / max(len(misses) - len(free), 1) * (1 + follows) / (1 - follows)
    normal = slopes.T @ slopes
    scatter = np.sqrt(np.diag(np.linalg.pinv(normal)) * variance)
    warmer = np.zeros(1) if columns.warmer_k is None else columns.warmer_k
    shifts = [
        replace(columns, ocv_shift_v=np.full(1, OCV_SPREAD_V / 2)),
        replace(columns, warmer_k=warmer + TEMPERATURE_SPREAD_K / 2),
    ]
    if SLOW not in free and columns.slow_mohm is not None:
        shifts.append(replace(columns, slow_mohm=columns.slow_mohm * np.exp(np.log1p(SLOW_SPREAD) / 2)))
    moved = [_fitted(run, other, free) - found for other in shifts]
    return {k: float(np.sqrt(scatter[j] ** 2 + sum(m[k] ** 2 for m in moved))) for j, k in enumerate(free)}


def _working(learnt: LogFindings, run: _Run, soc: float, used: float, fit_v: float) -> Working:
    n = plain_number
    begins = (
        "resting volts before the run" if run.rested else "moved with the rest: the log begins under load"
    )
    steps = [
        Step("Charge at the start", begins, f"{100 * soc:.0f} %"),
        Step("Taken from it", "Σ I·t ÷ capacity", f"{100 * used:.0f} %"),
        Step(
            "Resistance of a cell",
            f"least squares on the volts, 25{DEG} and 60 % charge",
            f"{n(learnt.cell_mohm)} mΩ ± {100 * learnt.resistance_spread:.0f} %",
        ),
    ]
    if learnt.slow_ratio and learnt.slow_s and learnt.slow_spread:
        sizes = f"{n(learnt.slow_ratio, 2)} times that, over {n(learnt.slow_s, 2)} s"
        steps.append(Step("Slow part", "one RC pair", f"{sizes}, ± {100 * learnt.slow_spread:.0f} %"))
    if learnt.capacity_ah and learnt.capacity_spread:
        figures = f"{n(1000 * learnt.capacity_ah, 4)} mAh ± {100 * learnt.capacity_spread:.0f} %"
        steps.append(Step("Capacity", "from how the resting volts fall", figures))
    steps.append(Step("Fit", "RMS of what is left", f"{1000 * fit_v:.0f} mV a cell"))
    return Working(
        "Learnt from a log",
        tuple(steps),
        f"± is two standard deviations: scatter, ± 10 mV of the resting curve, ± 4{WARMER}; of the resistance"
        f" {LOG_SPREAD:.0%} more, by which logs of one pack differ.",
    )
