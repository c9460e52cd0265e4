"""A run: the cycle again and again, until each lane has come to its named ending."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from coldstack.core.discharge.batch import Ending, Floats, PackColumns, Surroundings
from coldstack.core.discharge.outcome import Outcome
from coldstack.core.discharge.stepping import CUTOFF_HOLD_S, Steps
from coldstack.core.draw.scaling import PhaseLoad

if TYPE_CHECKING:
    from coldstack.core.discharge.simulate import Trace

Rows = NDArray[np.intp]

TOO_HOT_C = 100.0
"""Far beyond any limit: the circuit means nothing there, so the run stops."""
REPEAT_AFTER_S = 90.0
"""Three time constants of the slow part."""


class Run(Steps):
    """Lanes on their way to the landing point, or to what ends them before; each is kept in ``out`` when it ends."""

    def __init__(
        self,
        packs: PackColumns,
        blocks: list[PhaseLoad],
        surroundings: Surroundings,
        rows: NDArray[np.int64],
        out: Outcome,
    ) -> None:
        super().__init__(packs, blocks, surroundings, rows)
        self.out = out
        self.was_below, self.stretch_start_s = False, 0.0

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
                self.block(k, duration_s, longest_step_s, trace)
                if self.repeats == 1 or k == len(self.durations) - 1:
                    self._endings()
                    if trace is None:
                        self.shrink()
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
