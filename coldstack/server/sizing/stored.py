"""A model's job as it is stored."""

from __future__ import annotations

from coldstack.server.api.stored import Document, Stored
from coldstack.server.gear.older import with_cell_mohm
from coldstack.server.sizing.schemas import MOST_ASSUMED, JobIn

USUAL: Document = {
    "motion": "level_flight",
    "mass_g": 1500.0,
    "draw": {
        "average_a": 12.0,
        "peak_a": 40.0,
        "peak_s": 5.0,
        "peak_every_s": 40.0,
        "reference_voltage_v": 14.8,
        "reference_mass_g": 1900.0,
    },
    "electronics": {"max_v": 16.8, "rated_cells": 4},
}
"""A middling aeroplane on four cells: what stands in for figures that a stored job has not, always shown as
assumed."""


def _assumed(document: Document, filled: list[str]) -> Document:
    names = [name for path in filled for name in _leaves(path)]
    return {**document, "assumed": list(dict.fromkeys([*document["assumed"], *names]))[:MOST_ASSUMED]}


def _leaves(path: str) -> list[str]:
    inside = USUAL.get(path)
    return [f"{path}.{name}" for name in inside] if isinstance(inside, dict) else [path]


STORED_JOB = Stored(JobIn, lambda: USUAL, version=2, steps={1: with_cell_mohm}, told=_assumed)
