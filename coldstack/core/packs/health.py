"""How a pack is today, by what was measured of it: one value that goes wherever the pack goes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from coldstack.core.packs.measured import METER_SPREAD

Level = Literal["fine", "again", "watch", "light", "retire"]
LEVELS: tuple[Level, ...] = ("fine", "again", "watch", "light", "retire")
"""From the best to the worst. "again": one reading is out of line, and another must tell whether it is true.
"""


@dataclass(frozen=True, slots=True)
class StateOfHealth:
    """What a pack holds and resists today; None where no record of it tells.

    ``level`` is its worst sign's. ``capacity_ah`` never is more than the label. ``cell_mohm`` is
    of the middle cell at 25 °C and mid charge, ``resistance_spread`` ± of it (two standard deviations),
    ``cell_ratios`` each cell's over it. ``capacity_by`` and ``resistance_by`` say by which evidence.
    [Ah], [mΩ]

    How fast it may be charged goes by this, too: ``stranger`` if nobody charged, ran or checked it here
    before, ``apart`` if its cells rest too far apart, ``cells_unknown`` if only all of them together
    were read, ``temperature_c`` as it was read just now. [°C]
    """

    level: Level = "fine"
    capacity_ah: float | None = None
    capacity_by: str = ""
    cell_mohm: float | None = None
    resistance_spread: float = METER_SPREAD[""]
    resistance_by: str = ""
    cell_ratios: tuple[float, ...] = ()
    sign: str = ""
    """What the worst sign says; empty for none."""
    stranger: bool = False
    records_wanted: int = 0
    """Of a pack of unknown past: how many charges, runs or checks more until it counts as known."""
    apart: bool = False
    cells_unknown: bool = False
    temperature_c: float | None = None
