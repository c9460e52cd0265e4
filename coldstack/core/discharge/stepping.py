"""The inner loop: packs as lanes of one table, stepped through blocks of steady load.

A block is part of a phase: the load is steady, temperature and its resistance factor are held. Within it a few steps,
each with the charge and resistance of its middle; the current is solved with the slow part's growth during the step
included (its share of R1 counts as resistance), so that charge and slow voltage are exact for a steady current. Sums,
heat, temperature and endings follow once a block. Nothing is allocated inside a step.
"""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from coldstack.core.cells.chemistry import CHEMISTRIES, CHEMISTRY_IDS
from coldstack.core.cells.open_circuit import (
    GRID_CELLS,
    STACK_MARGIN,
    STACK_STRIDE,
    stacked_ocv,
)
from coldstack.core.cells.resistance import (
    SLOW_RESISTANCE_FACTOR,
    SLOW_TIME_CONSTANT_S,
    TEMPERATURE_B_K,
    stacked_soc_factor,
)
from coldstack.core.discharge.batch import (
    HEAT_CAPACITY_J_PER_KG_K,
    Ending,
    Floats,
    PackColumns,
    Surroundings,
)
from coldstack.core.discharge.outcome import ROWS, Outcome
from coldstack.core.draw.scaling import PhaseLoad
from coldstack.core.units import KELVIN_AT_0_C, SECONDS_PER_HOUR

if TYPE_CHECKING:
    from coldstack.core.discharge.simulate import Trace

Rows = NDArray[np.intp]

TOO_HOT_C = 100.0
"""Far beyond any limit: the circuit means nothing there, so the run stops."""
RENEW_S = 15.0
"""The resistance follows the temperature at most this often: a short peak does not warm a pack by a degree."""
CUTOFF_HOLD_S = 2.0
"""A controller stops after its threshold was held this long."""
STEPS_PER_RUN = 50
"""Steps may grow to this fraction of the time run so far."""
REPEAT_AFTER_S = 90.0
"""Three time constants of the slow part."""
SHRINK_BELOW = 0.8
"""Ended lanes are dropped once fewer than this share still runs."""

_NOMINAL_V = np.array([CHEMISTRIES[c].nominal_v for c in CHEMISTRY_IDS])
# NumPy takes an array of no dimension faster than a Python number.
_HALF, _ONE, _TWO, _FOUR = (np.array(x) for x in (0.5, 1.0, 2.0, 4.0))


class Lanes:
    """The packs that still run, one column each; the rows of ``table`` are reached by name."""

    step_per_as: Floats
    r25: Floats
    r_out: Floats
    z_land: Floats
    z_zero: Floats
    z_floor: Floats
    alarm_v: Floats
    cutoff_v: Floats
    series: Floats
    rise_per_j: Floats
    settle_per_w: Floats
    z: Floats
    v_slow: Floats
    current: Floats
    temperature: Floats
    below_s: Floats
    z_start: Floats
    z_block: Floats
    v_block: Floats
    warmed_from: Floats
    charge: Floats
    square: Floats
    energy: Floats
    heat: Floats
    block_heat: Floats
    stretch_heat: Floats
    stretch_low: Floats
    peak: Floats
    lowest: Floats
    alarm_s: Floats
    emf: Floats
    r: Floats
    rt: Floats
    work: Floats
    spare: Floats
    step_z: Floats
    current_sum: Floats
    volts_sum: Floats
    volts_first: Floats
    r_sum: Floats
    r_warm: Floats

    def __init__(
        self,
        packs: PackColumns,
        blocks: list[PhaseLoad],
        surroundings: Surroundings,
        rows: NDArray[np.int64],
        out: Outcome,
    ) -> None:
        n = len(packs)
        self.surroundings, self.out, self.rows = surroundings, out, rows
        self.durations, self.laws = [b.duration_s for b in blocks], [b.law for b in blocks]
        self.table = np.zeros((len(ROWS), n))
        self.alive, self.running = np.ones(n, bool), n
        self.was_below = False
        self.repeats = 1
        self.stretch_begins = True
        self.renewed_s = -np.inf
        self.stretch_start_s = self.block_dt = 0.0
        self.block_steps = 1
        self.samples: list[Floats] = []
        nominal = _NOMINAL_V[packs.chemistry_index]
        # per block: the load, and the current that it would take at nominal volts, to place the first mid-step
        self.loads = np.array([_per_cell(b, packs.series) for b in blocks])
        self.guesses = np.array([_guess(b.law, x, nominal) for b, x in zip(blocks, self.loads, strict=True)])
        self._name_rows()
        self.z_zero[:] = packs.chemistry_index * STACK_STRIDE + STACK_MARGIN + 0.5
        self.z_floor[:] = self.z_zero - 0.8 * STACK_MARGIN
        self.step_per_as[:] = GRID_CELLS / (packs.capacity_ah * SECONDS_PER_HOUR)
        self.r25[:] = packs.resistance_mohm / 1000.0
        self.r_out[:] = packs.outside_mohm / 1000.0 / packs.series
        self.z[:] = packs.start_soc * GRID_CELLS + self.z_zero
        self.z_land[:] = packs.landing_soc * GRID_CELLS + self.z_zero
        self.alarm_v[:], self.cutoff_v[:] = packs.alarm_cell_v, packs.cutoff_cell_v
        self.series[:] = packs.series
        # the heat of one cell position counts for all of them
        heat_capacity = packs.mass_g / 1000.0 * HEAT_CAPACITY_J_PER_KG_K
        loss = surroundings.transfer_w_per_m2_k * packs.area_m2
        self.rise_per_j[:] = loss / heat_capacity
        self.settle_per_w[:] = packs.series / loss
        self.temperature[:] = surroundings.start_c
        self.lowest[:] = self.stretch_low[:] = np.inf
        self.alarm_s[:] = np.nan
        self.time_s = 0.0

    def _name_rows(self) -> None:
        for name, row in zip(ROWS, self.table, strict=True):
            setattr(self, name, row)
        self.index = np.empty(self.table.shape[1], dtype=np.intp)
        self.fades: dict[float, Floats] = {}

    def run(
        self, longest_step_s: float, longest_run_s: float, stretches_per_run: float, trace: Trace | None
    ) -> None:
        """Step through the cycle, again and again, until the last lane has ended."""
        self._begin_stretch()
        landed = np.flatnonzero(self.z <= self.z_land)
        self._end(landed, np.zeros(len(landed)), Ending.REACHED_LANDING)
        while self.running:
            self.repeats = 1 if trace is not None else self._repeats(stretches_per_run)
            if self.repeats > 1:
                self._begin_stretch()
            for k, duration_s in enumerate(self.durations):
                if self.repeats == 1:
                    self._begin_stretch()
                self._block(k, duration_s, longest_step_s, trace)
                if self.repeats == 1 or k == len(self.durations) - 1:
                    self._endings()
                    self._shrink(trace)
                if not self.running:
                    return
            if self.time_s >= longest_run_s:
                rest = np.flatnonzero(self.alive)
                self._end(rest, np.full(len(rest), self.time_s), Ending.RAN_TOO_LONG)

    def _repeats(self, stretches_per_run: float) -> int:
        """How many times the next cycle counts: short cycles are run once for many, once the slow part has settled.

        The slow part of the volts is periodic by then, so one cycle speaks for its neighbours; the stretch stays short
        against the time run so far.
        """
        if self.time_s < REPEAT_AFTER_S:
            return 1
        return max(1, int(self.time_s / stretches_per_run / sum(self.durations)))

    def _begin_stretch(self) -> None:
        """A stretch is what is settled at once: a block, or all blocks of a cycle that counts several times."""
        self.stretch_start_s = self.time_s
        # the lowest volts of a stretch count once the lane has come through it
        np.minimum(self.lowest, self.stretch_low, out=self.lowest)
        self.z_start[:], self.warmed_from[:] = self.z, self.temperature
        self.stretch_begins = True

    def _block(self, k: int, duration_s: float, longest_step_s: float, trace: Trace | None) -> None:
        # whoever still runs has run for time_s already: its charge changes slowly enough for longer steps
        step_s = max(longest_step_s, self.time_s / STEPS_PER_RUN if trace is None else 0.0)
        steps = max(1, math.ceil(duration_s / step_s - 1e-9))
        dt = duration_s / steps
        if self.time_s - self.renewed_s >= RENEW_S:
            self._renew_resistance()
        law, load = self.laws[k], self.loads[k]
        self.z_block[:], self.v_block[:] = self.z, self.v_slow
        np.multiply(self.step_per_as, dt, out=self.step_z)
        np.multiply(self.guesses[k], self.step_z, out=self.work)
        self.work *= _HALF
        self.z -= self.work
        self.samples = []
        for j in range(steps):
            volts = self._step(law, load, dt)
            if j == 0:
                self.volts_first[:], self.volts_sum[:] = volts, volts
                self.r_sum[:], self.current_sum[:] = self.r, self.current
                if law != "power":
                    np.maximum(self.peak, self.current, out=self.peak)
            else:
                self.volts_sum += volts
                self.current_sum += self.current
                self.r_sum += self.r
            if steps > 2:
                self.samples.append(volts.copy())
            if trace is not None:
                self._sample(trace, volts, self.time_s + (j + 0.5) * dt)
        self._end_block(dt, steps, law)

    def _renew_resistance(self) -> None:
        """R0 per cell position at the lanes' temperature, `temperature_factor` in place. [Ω]"""
        self.renewed_s = self.time_s
        r = self.r_warm
        np.add(self.temperature, KELVIN_AT_0_C, out=r)
        np.divide(TEMPERATURE_B_K, r, out=r)
        r -= TEMPERATURE_B_K / (25.0 + KELVIN_AT_0_C)
        np.exp(r, out=r)
        r *= self.r25

    def _step(self, law: str, load: Floats, dt: float) -> Floats:
        """One step; gives the loaded volts of its middle. [V]"""
        emf, r, rt, work, volts = self.emf, self.r, self.rt, self.work, self.spare
        half_fade = math.exp(-0.5 * dt / SLOW_TIME_CONSTANT_S)
        fade = half_fade * half_fade
        # an absurd load may drain more than is there within a step: stay within the curve's margin
        np.maximum(self.z, self.z_floor, out=work)
        self.index[:] = work
        stacked_ocv().take(self.index, out=emf, mode="clip")
        stacked_soc_factor().take(self.index, out=r, mode="clip")
        r *= self.r_warm
        # what drives and what hinders the current: the slow part's growth within the half step acts as resistance
        np.multiply(r, 1.0 + SLOW_RESISTANCE_FACTOR * (1.0 - half_fade), out=rt)
        rt += self.r_out
        np.multiply(self.v_slow, half_fade, out=work)
        emf -= work
        _solve(law, load, emf, rt, work, self.current)
        np.multiply(self.current, rt, out=work)
        np.subtract(emf, work, out=volts)
        # the slow part at the end of the step, and the charge in the middle of the next
        np.multiply(self.current, r, out=work)
        work *= SLOW_RESISTANCE_FACTOR * (1.0 - fade)
        self.v_slow *= fade
        self.v_slow += work
        np.multiply(self.current, self.step_z, out=work)
        self.z -= work
        return volts

    def _end_block(self, dt: float, steps: int, law: str) -> None:
        """Sums, heat and lowest volts of a block, from its mean current and volts; each counts ``repeats`` times."""
        duration_s, times = dt * steps, float(self.repeats)
        self.block_dt, self.block_steps = dt, steps
        mean_current = self.current_sum
        np.multiply(mean_current, self.step_z, out=self.work)
        if times > 1:
            self.work *= times
        np.subtract(self.z_block, self.work, out=self.z)
        if steps > 1:
            mean_current *= 1.0 / steps
            self.volts_sum *= 1.0 / steps
        charge = np.multiply(mean_current, duration_s * times, out=self.work)
        self.charge += charge
        self.volts_sum *= charge
        self.energy += self.volts_sum
        charge *= mean_current
        self.square += charge
        self._heat_cells(charge, mean_current, duration_s, steps)
        self.heat += self.block_heat
        if self.stretch_begins:
            self.stretch_heat[:] = self.block_heat
        else:
            self.stretch_heat += self.block_heat
        self._warm(duration_s * times)
        end_v = self._end_voltage()
        low_v = np.minimum(end_v, self.volts_first, out=self.volts_sum)
        if law == "power":
            np.maximum(self.peak, self.current, out=self.peak)
        self.time_s += duration_s * times
        if self.stretch_begins:
            self.stretch_low[:] = low_v
        elif duration_s >= CUTOFF_HOLD_S:
            np.minimum(self.stretch_low, low_v, out=self.stretch_low)
        self.stretch_begins = False
        sounds = low_v <= self.alarm_v
        if duration_s >= CUTOFF_HOLD_S and np.count_nonzero(sounds):
            self.alarm_s[sounds] = self.time_s
            self.alarm_v[sounds] = -np.inf

    def _heat_cells(self, square: Floats, current: Floats, duration_s: float, steps: int) -> None:
        """Heat of one cell position: I²·R0·t and the slow part's ∫v²/R1 dt along its exponential. [J]

        With s the volts the current settles at and g the gap at the block's start, ∫(s + g·e^(−t/τ))² dt ÷ R1.
        """
        tau, fade = SLOW_TIME_CONSTANT_S, math.exp(-duration_s / SLOW_TIME_CONSTANT_S)
        r, heat, gap, slow = self.r_sum, self.block_heat, self.v_block, self.rt
        if steps > 1:
            r *= 1.0 / steps
        np.multiply(square, r, out=heat)
        heat *= 1.0 + SLOW_RESISTANCE_FACTOR
        r *= SLOW_RESISTANCE_FACTOR
        np.multiply(current, r, out=slow)
        gap -= slow
        np.multiply(gap, gap, out=slow)
        slow /= r
        slow *= tau / 2 * (1 - fade * fade) * self.repeats
        heat += slow
        gap *= current
        gap *= 2 * tau * (1 - fade) * self.repeats
        heat += gap

    def _end_voltage(self) -> Floats:
        """Loaded volts per cell at the end of the block, where they are lowest under a steady load. [V]"""
        np.maximum(self.z, self.z_floor, out=self.z)
        self.index[:] = self.z
        volts, r = self.emf, self.r
        stacked_ocv().take(self.index, out=volts, mode="clip")
        stacked_soc_factor().take(self.index, out=r, mode="clip")
        r *= self.r_warm
        r += self.r_out
        r *= self.current
        volts -= self.v_slow
        volts -= r
        return volts

    def _warm(self, duration_s: float) -> None:
        """The temperature moves towards what the block's heat would settle at, by its exact exponential."""
        if duration_s not in self.fades:
            self.fades[duration_s] = np.exp(-self.rise_per_j * duration_s)
        settled = np.multiply(self.block_heat, self.settle_per_w, out=self.rt)
        settled *= 1.0 / duration_s
        settled += self.surroundings.air_c
        self.temperature -= settled
        self.temperature *= self.fades[duration_s]
        self.temperature += settled

    def _crossing_s(self, who: Rows) -> Floats:
        """When these lanes' volts first fell to the cut-off within the stretch just ended. [s]

        Between the block's mid-steps and its end the volts are taken as straight lines; of a cycle that counts several
        times the middle is taken.
        """
        if self.repeats > 1:
            return np.full(len(who), 0.5 * (self.stretch_start_s + self.time_s))
        limit, dt, steps = self.cutoff_v[who], self.block_dt, self.block_steps
        middles = self.samples or [self.volts_first]
        times = [(j + 0.5) * dt for j in range(len(middles))] + [steps * dt]
        volts = [v[who] for v in (*middles, self.emf)]
        crossing = np.zeros(len(who))
        found = volts[0] <= limit
        for j in range(1, len(volts)):
            here = ~found & (volts[j] <= limit)
            drop = np.where(here, volts[j - 1] - volts[j], 1.0)
            share = (volts[j - 1] - limit) / np.where(drop > 0, drop, 1.0)
            crossing = np.where(here, times[j - 1] + share * (times[j] - times[j - 1]), crossing)
            found |= here
        return np.asarray(self.stretch_start_s + crossing)

    def _endings(self) -> None:
        """Lanes that reached the cut-off or the landing point within the stretch, each at its own moment."""
        stretch_s = self.time_s - self.stretch_start_s
        below = self.stretch_low <= self.cutoff_v
        # counting is several times quicker than `any`
        if np.count_nonzero(below) or self.was_below:
            self.was_below = bool(np.count_nonzero(below))
            self.below_s += stretch_s
            self.below_s *= below
            held = np.flatnonzero(self.below_s >= CUTOFF_HOLD_S - 1e-9)
            crossing = self._crossing_s(held)
            crossing -= np.maximum(self.below_s[held] - stretch_s, 0.0)
            landed = self._landing_s(held)
            # a landing point reached before the cut-off ends the run first
            ending = np.where(landed <= crossing, int(Ending.REACHED_LANDING), self._stop(held))
            self._end(held, np.maximum(np.minimum(crossing, landed), 0.0), ending)
        landed_now = self.z <= self.z_land
        if np.count_nonzero(landed_now):
            self._end(np.flatnonzero(landed_now), None, Ending.REACHED_LANDING)
        if np.count_nonzero(self.temperature > TOO_HOT_C):
            hot = np.flatnonzero((self.temperature > TOO_HOT_C) & self.alive)
            self._end(hot, np.full(len(hot), self.time_s), Ending.CELL_TOO_HOT)

    def _landing_s(self, who: Rows) -> Floats:
        """When the charge of these lanes reaches the landing point, at the stretch's mean current; inf if after it. [s]"""
        drained = self.z_start[who] - self.z[who]
        to_go = self.z_start[who] - self.z_land[who]
        share = np.where(drained > 0, to_go / np.where(drained > 0, drained, 1.0), np.inf)
        at_s = self.stretch_start_s + share * (self.time_s - self.stretch_start_s)
        return np.asarray(np.where(share <= 1, at_s, np.inf))

    def _stop(self, who: Rows) -> NDArray[np.int64]:
        """Cut-off, or collapse where the load asked for more than the pack can give at all."""
        loss = self.current[who] * (self.r25[who] * 2.0 + self.r_out[who])
        collapsed = self.emf[who] < 0.6 * loss
        return np.where(collapsed, int(Ending.CANNOT_DELIVER), int(Ending.REACHED_CUTOFF))

    def _end(self, who: Rows, at_s: Floats | None, ending: NDArray[np.int64] | Ending) -> None:
        """Keep these lanes as they are at the end of the stretch, with the moment they ended within it.

        ``at_s`` None: when the landing point was reached, to be worked out from the charge. `Outcome` closes the books.
        """
        if not len(who):
            return
        stretch_s = max(self.time_s - self.stretch_start_s, 1e-9)
        rows, columns = self.rows[who], self.table[:, who]
        self.out.keep(rows, columns, at_s, self.time_s, stretch_s, ending, whole=self.repeats > 1)
        self.alive[who] = False
        self.running -= len(who)
        # an ended lane runs on until it is dropped, but nothing more can happen to it
        self.z_land[who] = self.alarm_v[who] = self.cutoff_v[who] = -np.inf
        self.below_s[who] = 0.0

    def _shrink(self, trace: Trace | None) -> None:
        if trace is None and self.running < SHRINK_BELOW * len(self.alive):
            keep = self.alive
            self.rows = self.rows[keep]
            self.loads, self.guesses = self.loads[:, keep], self.guesses[:, keep]
            self.table, self.alive = self.table[:, keep], self.alive[keep]
            self._name_rows()

    def _sample(self, trace: Trace, volts: Floats, at_s: float) -> None:
        trace.time_s.append(at_s)
        # z already stands in the middle of the next step
        soc = (self.z + self.current * self.step_z - self.z_zero) / GRID_CELLS
        for samples, column in (
            (trace.voltage_v, volts * self.series),
            (trace.current_a, self.current.copy()),
            (trace.soc, soc),
            (trace.temperature_c, self.temperature.copy()),
        ):
            column[~self.alive] = np.nan
            samples.append(column)


def _per_cell(load: PhaseLoad, series: Floats) -> Floats:
    """The load as one cell position meets it: watts are shared by the cells in series, volts multiplied by them."""
    if load.law == "power":
        return np.asarray(load.value / series)
    if load.law == "throttle1":
        return np.asarray(load.value * series)
    if load.law == "throttle2":
        return np.asarray(load.value * series * series)
    return load.value


def _guess(law: str, load: Floats, volts: Floats) -> Floats:
    """The current at these volts per cell, by the law and the load of one cell position. [A]"""
    if law == "amps":
        return load
    return np.asarray(load / volts if law == "power" else load * volts ** int(law[-1]))


def _solve(law: str, load: Floats, emf: Floats, rt: Floats, work: Floats, current: Floats) -> None:
    """Current of each cell position into ``current``, by the closed forms of `circuit`, in place."""
    if law == "amps":
        current[:] = load
    elif law == "power":
        # 2P ÷ (E + √(E² − 4RP)); without a root this gives more than E ÷ 2R, so the volts fall below half and the run ends
        np.multiply(rt, load, out=current)
        current *= _FOUR
        np.multiply(emf, emf, out=work)
        work -= current
        np.maximum(work, 0.0, out=work)
        np.sqrt(work, out=work)
        work += emf
        np.divide(load, work, out=current)
        current *= _TWO
    elif law == "throttle1":
        np.multiply(rt, load, out=work)
        work += _ONE
        np.multiply(load, emf, out=current)
        current /= work
    else:
        # V = 2E ÷ (1 + √(1 + 4aRE)), then I = a·V²
        np.multiply(rt, load, out=work)
        work *= emf
        work *= _FOUR
        work += _ONE
        np.sqrt(work, out=work)
        work += _ONE
        np.divide(emf, work, out=work)
        work *= _TWO
        np.multiply(work, work, out=work)
        np.multiply(work, load, out=current)
