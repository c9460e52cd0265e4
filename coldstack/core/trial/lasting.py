"""How long runs are followed."""

from __future__ import annotations

from coldstack.core.discharge.simulate import LONGEST_RUN_S
from coldstack.core.trial.job import Job

MUCH_LONGER = 1.9
"""Packs that run this many times the wanted minutes are followed no further in a plan."""


def longest_for(job: Job) -> float:
    """How long a run is followed: equipment serves for hours and hours. [s]"""
    if job.equipment is None:
        return LONGEST_RUN_S
    return max(LONGEST_RUN_S, 60 * MUCH_LONGER * job.equipment.lasting_min)
