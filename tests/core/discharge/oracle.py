"""An independent accountant of one discharge: scipy's adaptive integrator over its own statement of the
circuit.

It shares no code with the kernel. It reads the open-circuit table by itself, takes the charge factors of R0
and R1 as curves on the charge grid, and finds every ending by the integrator's own event search.
"""

from __future__ import annotations

import bisect
import csv
import math
from dataclasses import dataclass
from importlib.resources import files

import numpy as np
from scipy.integrate import solve_ivp

HOLD_S, TOO_HOT_C = 2.0, 100.0
NIMH = ([0.0, 0.05, 0.20, 0.50, 0.90, 1.0], [1.00, 1.10, 1.20, 1.25, 1.30, 1.38])


@dataclass
class Job:
    """One pack and its duty, in the oracle's own words.

    ``phases``: (seconds, law, value); cells: (count, Ah, Ω, charge). R1 is a multiple of the first ones' Ω
    for all: it does not follow R0.
    """

    chemistry: str
    cells: list[tuple[float, float, float, float]]
    outside_ohm: float
    mass_g: float
    area_m2: float
    landing_soc: float
    alarm_v: float
    cutoff_v: float
    slow_s: float
    air_c: float
    start_c: float
    transfer: float
    phases: list[tuple[float, str, float]]
    longest_s: float = 6 * 3600.0
    factor: np.ndarray | None = None
    slow: np.ndarray | None = None
    slow_ratio: float = 1.0


@dataclass
class Found:
    """What became of it."""

    ending: str
    seconds: float
    used_ah: float
    peak_a: float
    lowest_v: float
    end_c: float
    delivered_wh: float
    heat_wh: float
    alarm_s: float


def resting_curve(chemistry: str):
    """Charge and volts of the table, as published; the semi-solid takes the NMC curve above its damage
    volts."""
    if chemistry == "nimh":
        return np.array(NIMH[0]), np.array(NIMH[1])
    text = (files("coldstack.core") / "data" / "ocv.csv").read_text().splitlines()
    rows = list(csv.DictReader(line for line in text if not line.startswith("#")))
    charge = np.array([float(r["soc"]) for r in rows])
    volts = np.array([float(r["liion" if chemistry == "semisolid" else chemistry]) for r in rows])
    if chemistry != "semisolid":
        return charge, volts
    bottom = np.interp(2.80, volts, charge)
    keep = charge > bottom
    return (np.r_[bottom, charge[keep]] - bottom) / (1 - bottom), np.r_[2.80, volts[keep]]


class Circuit:
    """The right-hand side, and what the load meets; plain numbers, as most jobs have one group of cells."""

    def __init__(self, job: Job) -> None:
        self.job = job
        x, u = resting_curve(job.chemistry)
        grid = np.linspace(0, 1, len(job.factor))
        self.ocv, self.fast, self.slow = (_line(*xy) for xy in ((x, u), (grid, job.factor), (grid, job.slow)))
        self.cells, self.n = job.cells, len(job.cells)
        self.series = sum(c[0] for c in job.cells)
        self.slow_ohm = job.slow_ratio * job.cells[0][2]
        self.law, self.value = "amps", 0.0

    def parts(self, y):
        """Count, resting volts less slow, R0 and R1 of each group."""
        n = self.n
        out = []
        for g, (count, _, ohm, _) in enumerate(self.cells):
            z, v, t = y[g], y[n + g], y[2 * n + g]
            warmth = math.exp(2600.0 * (1 / (t + 273.15) - 1 / 298.15))
            r1 = self.slow_ohm * warmth * self.slow(z)
            out.append((count, self.ocv(z) - v, ohm * warmth * self.fast(z), r1))
        return out

    def source(self, parts):
        """Volts and resistance of the whole pack."""
        return sum(p[0] * p[1] for p in parts), sum(p[0] * p[2] for p in parts) + self.job.outside_ohm

    def amps(self, e, r):
        """What the load takes, NaN where the pack cannot give it."""
        x = self.value
        if self.law == "amps":
            return x if e - x * r > 0 else math.nan
        if self.law == "power":
            d = e * e - 4 * r * x
            return (e - math.sqrt(d)) / (2 * r) if d >= 0 else math.nan
        if self.law == "throttle1":
            return x * e / (1 + x * r)
        return x * ((-1 + math.sqrt(1 + 4 * x * r * e)) / (2 * x * r)) ** 2

    def meets(self, y):
        """Amps, pack volts, and the lowest cell's with its part of the leads' drop."""
        parts = self.parts(y)
        e, r = self.source(parts)
        i = self.amps(e, r)
        cell = min(p[1] - i * p[2] for p in parts) - i * self.job.outside_ohm / self.series
        return i, e - i * r, cell

    def room(self, y):
        """Above zero while the load can be met."""
        e, r = self.source(self.parts(y))
        if self.law == "amps":
            return e - self.value * r
        return e * e - 4 * r * self.value if self.law == "power" else 1.0

    def rates(self, _, y):
        """Charge, slow volts, temperature of each group; then charge drawn, delivered and lost energy."""
        y, n, job = y.tolist(), self.n, self.job
        parts = self.parts(y)
        e, r = self.source(parts)
        i = self.amps(e, r)
        if math.isnan(i):
            i = e / (2 * r)
        charge, slow, warm, lost = [], [], [], i * i * job.outside_ohm
        for g, (count, _, r0, r1) in enumerate(parts):
            v, t = y[n + g], y[2 * n + g]
            watts = i * i * r0 + v * v / r1
            lost += count * watts
            charge.append(-i / (3600 * self.cells[g][1]))
            slow.append((i * r1 - v) / job.slow_s)
            warm.append(
                (watts - job.transfer * job.area_m2 / self.series * (t - job.air_c))
                * self.series
                / job.mass_g
            )
        return [*charge, *slow, *warm, i, i * (e - i * r), lost]


def _line(x, y):
    xs, ys = [float(v) for v in x], [float(v) for v in y]

    def at(z):
        if z <= xs[0]:
            return ys[0]
        if z >= xs[-1]:
            return ys[-1]
        k = bisect.bisect_right(xs, z) - 1
        return ys[k] + (z - xs[k]) * (ys[k + 1] - ys[k]) / (xs[k + 1] - xs[k])

    return at


def run(job: Job, rtol: float = 1e-6) -> Found:
    """Phase by phase, each integrated to its end or to the first thing that happens in it."""
    way, k = _Way(job, rtol), 0
    if min(way.y[: way.n]) <= job.landing_soc:
        return way.found("landing")
    while True:
        seconds, way.c.law, way.c.value = job.phases[k % len(job.phases)]
        k, until = k + 1, way.t + seconds
        while until - way.t > 1e-9:
            ending = way.look() or way.go(until)
            if ending:
                return way.found(ending)


class _Way:
    """A run so far: the state, since when a threshold is held, and the most and least that was met."""

    def __init__(self, job: Job, rtol: float) -> None:
        self.job, self.rtol, self.c, self.n = job, rtol, Circuit(job), len(job.cells)
        still, warm = [0.0] * self.n, [float(job.start_c)] * self.n
        self.y = [*(x[3] for x in job.cells), *still, *warm, 0.0, 0.0, 0.0]
        self.cut_v = job.cutoff_v * self.c.series
        self.t, self.below, self.sounding, self.alarm = 0.0, None, None, math.nan
        self.peak, self.low = 0.0, math.inf

    def found(self, ending: str) -> Found:
        """What became of it."""
        charge, delivered, lost = (x / 3600 for x in self.y[-3:])
        lowest = self.low if math.isfinite(self.low) else 0.0
        hottest = max(self.y[2 * self.n : 3 * self.n])
        return Found(ending, self.t, charge, self.peak, lowest, hottest, delivered, lost, self.alarm)

    def met(self, amps: float, pack_v: float) -> None:
        """Remember the most amps and the least volts."""
        self.peak, self.low = max(self.peak, amps), min(self.low, pack_v)

    def look(self) -> str:
        """Take note of this instant; an ending if the load cannot be met."""
        amps, pack_v, cell_v = self.c.meets(self.y)
        if math.isnan(amps):
            return "cannot"
        self.met(amps, pack_v)
        self.below = (self.t if self.below is None else self.below) if pack_v <= self.cut_v + 1e-6 else None
        if math.isnan(self.alarm):
            sounds = cell_v <= self.job.alarm_v + 1e-6
            self.sounding = (self.t if self.sounding is None else self.sounding) if sounds else None
        return ""

    def go(self, until: float) -> str:
        """On to the end of the phase, of a hold, or to what happens first; an ending if that is one."""
        quiet = math.isnan(self.alarm)
        stop = min(until, self.job.longest_s)
        if self.below is not None:
            stop = min(stop, self.below + HOLD_S)
        if self.sounding is not None and quiet:
            stop = min(stop, self.sounding + HOLD_S)
        happens = _first_event(
            self.c, self.cut_v, self.below is None, self.sounding is None if quiet else None
        )
        sol = solve_ivp(
            self.c.rates,
            (self.t, stop),
            np.array(self.y),
            method="LSODA",
            rtol=self.rtol,
            atol=1e-8,
            events=happens,
            max_step=max((stop - self.t) / 3, 1e-3),
        )
        for state in sol.y.T[1:].tolist():
            i, v, _ = self.c.meets(state)
            if not math.isnan(i):
                self.met(i, v)
        self.t, self.y = float(sol.t[-1]), sol.y[:, -1].tolist()
        if len(sol.t_events[0]):
            which = happens.which(self.y)
            # a threshold that was crossed is noted at the next look
            return which if which in ("landing", "hot", "cannot") else ""
        return self._held()

    def _held(self) -> str:
        """Where no event ended the way: a hold is over, or the longest run."""
        if self.sounding is not None and math.isnan(self.alarm) and self.t >= self.sounding + HOLD_S - 1e-9:
            self.alarm = self.t
        if self.below is not None and self.t >= self.below + HOLD_S - 1e-9:
            return "cutoff"
        return "long" if self.t >= self.job.longest_s - 1e-9 else ""


def _first_event(c: Circuit, cut_v: float, above_cut: bool, above_alarm: bool | None):
    """A function that falls through zero at the first thing that happens in a phase."""
    job, n = c.job, c.n

    def each(y) -> dict[str, float]:
        _, pack_v, cell_v = c.meets(y)
        pack_v, cell_v = (0.0 if math.isnan(v) else v for v in (pack_v, cell_v))
        out = {
            "landing": min(y[:n]) - job.landing_soc,
            "hot": 1 - max(y[2 * n : 3 * n]) / TOO_HOT_C,
            "cannot": c.room(y),
            "cut": (pack_v - cut_v) * (1 if above_cut else -1) + (0 if above_cut else 2e-6),
        }
        if above_alarm is not None:
            out["alarm"] = (cell_v - job.alarm_v) * (1 if above_alarm else -1) + (0 if above_alarm else 2e-6)
        return out

    def happens(_, y) -> float:
        return min(each(y.tolist()).values())

    happens.which = lambda y: min(each(y).items(), key=lambda kv: kv[1])[0]
    happens.terminal, happens.direction = True, -1
    return happens
