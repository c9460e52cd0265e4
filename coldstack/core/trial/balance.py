"""Where a pack must lie for the model to balance."""

from __future__ import annotations

import numpy as np

from coldstack.core.discharge.batch import Floats
from coldstack.core.trial.job import Job

OUT_OF_BALANCE_MM = 4.5
"""By so much a model of 1 kg may be out of balance and still be flown, some 2.5 % of its wing's chord; others
by the cube root of their mass, as their chords grow. House figure."""


def allowed_off_mm(total_g: Floats) -> Floats:
    """What the balance point of a model that flies may be off. [mm]"""
    return np.asarray(OUT_OF_BALANCE_MM * np.cbrt(total_g / 1000))


def pack_position_mm(job: Job, mass_g: Floats) -> Floats:
    """Where the pack's middle must lie for the model to balance: ``(x_cg·m_total − x_0·m_0) ÷ m_pack``.
    [mm]"""
    bay = job.bay
    if bay.balance_at_mm is None or bay.empty_balance_mm is None:
        return np.full(len(mass_g), np.nan)
    total = job.mass_g + mass_g
    return np.asarray((bay.balance_at_mm * total - bay.empty_balance_mm * job.mass_g) / mass_g)
