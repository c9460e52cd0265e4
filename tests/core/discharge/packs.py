"""Packs and duties for the discharge tests."""

from __future__ import annotations

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from coldstack.core.discharge.batch import PackColumns
from coldstack.core.draw.scaling import PhaseLoad

SLOW_TIMES = 1.3
"""R1 of the slow part of these packs over their R0."""


def packs(n=1, *, chemistry="lipo", **columns) -> PackColumns:
    """N equal packs (4S 4 Ah, 3 mΩ a cell) with some columns changed; a single value stands for all."""
    standard = {
        "chemistry_index": CHEMISTRY_IDS.index(chemistry),
        "series": 4.0,
        "capacity_ah": 4.0,
        "cell_mohm": 3.0,
        "outside_mohm": 0.0,
        "mass_g": 400.0,
        "area_m2": 0.025,
        "start_soc": 1.0,
        "landing_soc": 0.2,
        "alarm_cell_v": 3.4,
        "cutoff_cell_v": 3.0,
    }
    cells = columns.pop("cells", None)
    columns.setdefault("slow_mohm", SLOW_TIMES * np.asarray(columns.get("cell_mohm", standard["cell_mohm"])))
    made = {k: np.broadcast_to(np.asarray(v), (n,)).copy() for k, v in {**standard, **columns}.items()}
    made["chemistry_index"] = made["chemistry_index"].astype(np.int64)
    return PackColumns(**made, cells=cells)


def amps(current, duration_s=60.0, n=1) -> PhaseLoad:
    """A phase that holds amps."""
    return PhaseLoad(duration_s, "amps", np.broadcast_to(np.asarray(float(current)), (n,)).copy())


def load(law, value, duration_s=60.0, n=1) -> PhaseLoad:
    """A phase of any law."""
    return PhaseLoad(duration_s, law, np.broadcast_to(np.asarray(float(value)), (n,)).copy())
