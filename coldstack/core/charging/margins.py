"""Margins of a charge, over the most that a sound pack may take: room for what no range holds, not for a
fault."""

from __future__ import annotations

TIMER_FACTOR = 1.1
"""Safety timer over the high end of the minutes. House figure."""
CUTOFF_FACTOR = 1.1
"""Capacity cut-off over the high end of the mAh. House figure."""
CUTOFF_STEP_MAH = 10
METER_V = 0.005
"""A cell checker may read so much wrong: on a flat curve that is much charge. Typical."""
