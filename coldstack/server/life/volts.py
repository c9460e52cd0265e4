"""Volts at rest between a reading and the event that tells of it."""

from __future__ import annotations

from typing import TypedDict

from coldstack.core.readings.cells import PackReading


class Volts(TypedDict, total=False):
    """The fields of an event that say what was read: each cell, or the whole pack."""

    cell_v: tuple[float, ...]
    pack_v: float | None


def volts_said(reading: PackReading | None) -> Volts:
    """A reading as an event tells it; nothing of none."""
    if reading is None:
        return {}
    return {"pack_v": round(reading.pack_v, 4)} if reading.whole else {"cell_v": reading.cell_v}
