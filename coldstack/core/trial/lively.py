"""How lively a pack makes a model: full-stick watts fresh off the charger, against those on what it
runs on now."""

from __future__ import annotations

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from coldstack.core.cells.open_circuit import GRID_CELLS, ocv_curve
from coldstack.core.cells.resistance import soc_factor_curve, temperature_factor
from coldstack.core.discharge.batch import Floats, PackColumns
from coldstack.core.draw.scaling import full_stick_voltage
from coldstack.core.trial.job import Job


def fresh_pack(packs: PackColumns, start_c: float) -> tuple[Floats, Floats]:
    """Resting volts [V] and quick resistance [Ω] of whole packs where a run starts, leads and plugs
    included; shape (N,)."""
    grid = np.round(packs.start_soc * GRID_CELLS).astype(int)
    cell_v = np.array([ocv_curve(c) for c in CHEMISTRY_IDS])[packs.chemistry_index, grid]
    warmth = float(temperature_factor(start_c))
    cell_mohm = packs.cell_mohm * soc_factor_curve()[grid] * warmth
    return cell_v * packs.series, (cell_mohm * packs.series + packs.outside_mohm) / 1000.0


def liveliness(job: Job, packs: PackColumns, start_c: float) -> Floats:
    """Full-stick watts of each pack as a share of those for which the draw was told, with the same propeller
    or gearing; shape (N,).

    At the first moment of full stick: watts go with V^(k+1), V under that load. The slow sag of a long
    pull is left out, for all packs alike. A duty without a full-stick phase is judged at its average.
    """
    duty, k = job.duty, job.motion.throttle_exponent
    told_a = duty.stick_current_a or duty.average_current_a
    open_v, ohm = fresh_pack(packs, start_c)
    volts = full_stick_voltage(open_v, ohm, current_a=told_a, at_voltage_v=duty.stick_voltage_v, exponent=k)
    return np.asarray((volts / duty.stick_voltage_v) ** (k + 1))
