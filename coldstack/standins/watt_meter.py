"""A simulated watt meter: it rides along on a simulated flight and gives the log that a real one would.

A real meter's driver would implement `WattMeter`: one method that gives samples.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.discharge.batch import PackColumns, Surroundings
from coldstack.core.discharge.simulate import traced
from coldstack.core.draw.duty import Phase, duty_from_phases
from coldstack.core.draw.motion import Motion
from coldstack.core.draw.scaling import Drive, phase_loads

SAMPLE_S = 0.5
STANDING_S = 3.0


@dataclass(frozen=True, slots=True)
class Samples:
    """What a meter records: times [s], volts at the load [V], amps [A], of one length."""

    time_s: list[float]
    voltage_v: list[float]
    current_a: list[float]


class WattMeter(Protocol):
    """A meter between pack and model."""

    def samples(self) -> Samples:
        """All that was recorded since it was plugged in."""
        ...


@dataclass(frozen=True, slots=True)
class SimulatedWattMeter:
    """A meter on a simulated pack, with the noise and the uneven pilot of a real run; the same for the same
    seed."""

    pack: PackColumns
    phases: tuple[Phase, ...]
    reference_voltage_v: float
    reference_mass_g: float
    all_up_mass_g: float
    motion: Motion
    minutes: float
    seed: int
    drive: Drive = "same"

    def samples(self) -> Samples:
        """The run, sampled twice a second from a few seconds before the start."""
        pilot = np.random.default_rng(self.seed)
        uneven = tuple(
            Phase(p.duration_s * pilot.uniform(0.8, 1.2), p.hold, p.current_a * pilot.normal(1, 0.06))
            for _ in range(40)
            for p in self.phases
        )
        duty = duty_from_phases(
            uneven,
            reference_voltage_v=self.reference_voltage_v,
            reference_mass_g=self.reference_mass_g,
            spread=0.1,
        )
        loads = phase_loads(
            duty, all_up_mass_g=np.array([self.all_up_mass_g]), motion=self.motion, drive=self.drive
        )
        _, (run,) = traced(
            self.pack, loads, Surroundings(), longest_step_s=SAMPLE_S, longest_run_s=60 * self.minutes
        )
        grid = np.arange(0.0, 60 * self.minutes, SAMPLE_S)
        cell_v = resting_voltage(
            CHEMISTRY_IDS[int(self.pack.chemistry_index[0])], float(self.pack.start_soc[0])
        )
        volts = np.interp(
            grid - STANDING_S, run.time_s, run.voltage_v, left=cell_v * float(self.pack.series[0])
        )
        amps = np.interp(grid - STANDING_S, run.time_s, run.current_a, left=0.0)
        amps = np.maximum(amps * pilot.normal(1, 0.015, len(grid)), 0.0)
        return Samples(
            time_s=[round(float(t), 1) for t in grid],
            voltage_v=[round(float(v + pilot.normal(0, 0.01)), 2) for v in volts],
            current_a=[round(float(a), 2) for a in amps],
        )


def csv_text(samples: Samples) -> str:
    """The samples as a CSV file: time, volts and amps with their units in the header."""
    rows = zip(samples.time_s, samples.voltage_v, samples.current_a, strict=True)
    return "time s,voltage V,current A\n" + "".join(f"{t},{v},{a}\n" for t, v, a in rows)
