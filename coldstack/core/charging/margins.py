"""Margins of a charge: room for a meter's error and an estimate's range, not for a fault."""

from __future__ import annotations

TIMER_FACTOR = 1.3
"""Safety timer over the minutes expected."""
CUTOFF_FACTOR = 1.15
"""Capacity cut-off over the mAh expected."""
CUTOFF_STEP_MAH = 10
