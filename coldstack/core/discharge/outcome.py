"""What is kept of each pack when it ends, and how its books are closed."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from coldstack.core.cells.open_circuit import GRID_CELLS
from coldstack.core.discharge.batch import Discharge, Ending, Floats, Ints, PackColumns
from coldstack.core.discharge.lanes import ROWS
from coldstack.core.units import SECONDS_PER_HOUR


@dataclass(slots=True)
class Outcome:
    """The table's columns as they were at the end of each pack's last stretch.

    ``end_s`` is the moment it ended, NaN where the charge tells it; ``stretch_end_s`` and ``stretch_s`` the end and length
    of its last stretch, ``whole`` whether that was many cycles run as one.
    """

    table: Floats
    end_s: Floats
    stretch_end_s: Floats
    stretch_s: Floats
    ending: Ints
    whole: NDArray[np.bool_]

    @classmethod
    def empty(cls, n: int) -> Outcome:
        """Room for n packs, none of which has ended."""
        return cls(
            np.zeros((len(ROWS), n)),
            np.zeros(n),
            np.zeros(n),
            np.ones(n),
            np.full(n, int(Ending.RAN_TOO_LONG)),
            np.zeros(n, bool),
        )

    def keep(
        self,
        rows: NDArray[np.int64],
        columns: Floats,
        end_s: Floats | None,
        stretch_end_s: float,
        stretch_s: float,
        ending: Ints | Ending,
        *,
        whole: bool,
    ) -> None:
        """The columns of packs that end in the present stretch."""
        self.table[:, rows] = columns
        self.end_s[rows] = np.nan if end_s is None else end_s
        self.stretch_end_s[rows], self.stretch_s[rows] = stretch_end_s, stretch_s
        self.ending[rows] = ending
        self.whole[rows] = whole

    def discharge(self, packs: PackColumns) -> Discharge:
        """Close the books: the part of the last stretch after the end is taken back, at the stretch's mean current."""
        c = dict(zip(ROWS, self.table, strict=True))
        drained = c["z_start"] - c["z"]
        end_s = np.where(np.isnan(self.end_s), self._landing_s(c, drained), self.end_s)
        surplus = np.clip((self.stretch_end_s - end_s) / self.stretch_s, 0.0, 1.0)
        stretch_as = drained / c["step_per_as"]
        back_as = surplus * stretch_as
        charge = np.maximum(c["charge"] - back_as, 0.0)
        square = np.maximum(c["square"] - back_as * stretch_as / self.stretch_s, 0.0)
        # `emf` holds the loaded volts at the end of the last block, where the stepping left them
        energy = np.maximum(c["energy"] - back_as * c["emf"], 0.0)
        heat = c["heat"] - surplus * c["stretch_heat"] + c["r_out"] * square
        cooler = surplus * (c["temperature"] - c["warmed_from"])
        end_v = c["emf"] + surplus * (c["volts_first"] - c["emf"])
        # of the last stretch only what was run counts: its beginning and its end; all of it where it is many cycles in one
        last = np.where(self.whole, c["stretch_low"], np.minimum(c["volts_first"], end_v))
        stopped = (self.ending == int(Ending.REACHED_CUTOFF)) | (self.ending == int(Ending.CANNOT_DELIVER))
        last = np.where(stopped, np.minimum(last, c["cutoff_v"]), last)
        lowest = np.minimum(c["lowest"], np.where(end_s > 0, last, np.inf))
        ran, drew = np.where(end_s > 0, end_s, np.inf), np.where(charge > 0, charge, np.inf)
        series, hour = packs.series, SECONDS_PER_HOUR
        return Discharge(
            duration_s=end_s,
            ending=self.ending,
            used_ah=charge / hour,
            end_soc=(c["z"] + surplus * drained - c["z_zero"]) / GRID_CELLS,
            average_current_a=charge / ran,
            rms_current_a=np.sqrt(square / ran),
            peak_current_a=c["peak"],
            lowest_voltage_v=np.where(np.isfinite(lowest), lowest, 0.0) * series,
            mean_voltage_v=energy / drew * series,
            landing_voltage_v=end_v * series,
            energy_wh=energy * series / hour,
            heat_wh=heat * series / hour,
            end_temperature_c=c["temperature"] - cooler,
            alarm_s=np.where(c["alarm_s"] <= end_s, c["alarm_s"], np.nan),
        )

    def _landing_s(self, c: dict[str, Floats], drained: Floats) -> Floats:
        to_go = c["z_start"] - c["z_land"]
        share = np.clip(to_go / np.where(drained > 0, drained, 1.0), 0.0, 1.0)
        return np.asarray(self.stretch_end_s - (1.0 - share) * self.stretch_s)
