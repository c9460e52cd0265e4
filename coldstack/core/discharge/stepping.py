"""Steps and blocks: the inner loop, in which nothing is allocated.

A block is part of a phase: the load is steady, temperature and its resistance factor are held. Within it a few steps,
each with the charge and resistance of its middle; the current is solved with the slow part's growth during the step
included (its share of R1 counts as resistance), so that charge and slow voltage are exact for a steady current. Sums,
heat and temperature follow once a block.
"""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from coldstack.core.cells.open_circuit import GRID_CELLS, stacked_ocv
from coldstack.core.cells.resistance import (
    SLOW_RESISTANCE_FACTOR,
    SLOW_TIME_CONSTANT_S,
    TEMPERATURE_B_K,
    stacked_soc_factor,
)
from coldstack.core.discharge.batch import Floats, PackColumns, Surroundings
from coldstack.core.discharge.lanes import LaneTable
from coldstack.core.draw.scaling import PhaseLoad
from coldstack.core.units import KELVIN_AT_0_C

if TYPE_CHECKING:
    from coldstack.core.discharge.simulate import Trace

STEPS_PER_RUN = 50
"""Steps may grow to this fraction of the time run so far."""
RENEW_S = 15.0
"""The resistance follows the temperature at most this often: a short peak does not warm a pack by a degree."""
CUTOFF_HOLD_S = 2.0
"""A controller stops after its threshold was held this long; an alarm sounds likewise."""

# NumPy takes an array of no dimension faster than a Python number.
_HALF, _ONE, _TWO, _FOUR = (np.array(x) for x in (0.5, 1.0, 2.0, 4.0))


class Steps(LaneTable):
    """Lanes that can be taken through a block."""

    def __init__(
        self, packs: PackColumns, blocks: list[PhaseLoad], surroundings: Surroundings, rows: NDArray[np.int64]
    ) -> None:
        super().__init__(packs, blocks, surroundings, rows)
        self.repeats, self.stretch_begins, self.renewed_s = 1, True, -math.inf
        self.block_dt, self.block_steps = 0.0, 1
        self.samples: list[Floats] = []

    def block(self, k: int, duration_s: float, longest_step_s: float, trace: Trace | None) -> None:
        """Take all lanes through block ``k`` of the cycle."""
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
        solve(law, load, emf, rt, work, self.current)
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


def solve(law: str, load: Floats, emf: Floats, rt: Floats, work: Floats, current: Floats) -> None:
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
