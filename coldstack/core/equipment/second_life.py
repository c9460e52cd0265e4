"""A second life at the bench: what a pack past flying still runs, watched, and for how long."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.packs.health import Level
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.tolerance import falls_short_of_volts, passes_volts
from coldstack.core.rules.house_rules import HouseRules, for_chemistry
from coldstack.core.units import lasting

FOR_LEVELS: tuple[Level, ...] = ("light",)
"""Who is told: packs past flying, not those that must go."""
GENTLE_C = 3.0
"""Of a pack past flying no more than this is asked. House figure. [1/h]"""


@dataclass(frozen=True, slots=True)
class BenchTool:
    """What runs at a bench: its watts, and the volts that it accepts. Typical, none read from a source."""

    name: str
    watts: float
    least_v: float
    most_v: float


BENCH_TOOLS = (
    BenchTool("a lamp for 12 V", 6.0, 9.0, 13.0),
    BenchTool("a fan for 12 V", 4.0, 9.0, 13.0),
    BenchTool("a glue gun for packs", 25.0, 9.0, 13.0),
    BenchTool("a soldering iron", 60.0, 11.0, 25.5),
    BenchTool("a phone charger with a step-down", 10.0, 6.0, 26.0),
    BenchTool("a checker or a small radio", 1.0, 3.0, 9.0),
)


@dataclass(frozen=True, slots=True)
class BenchUse:
    """A tool that a pack still runs: about so long, in words."""

    name: str
    minutes: float
    words: str


def bench_uses(pack: Pack, level: Level, rules: HouseRules) -> list[BenchUse]:
    """What a pack on light duty still runs at the bench, the longest first; nothing of any other pack.

    By its watt-hours of today between full and the landing point, at printed volts; tools whose volts it
    leaves on the way, or that ask more than GENTLE_C of it, are left out.
    """
    if level not in FOR_LEVELS:
        return []
    cell, of_cell = chemistry(pack.chemistry), for_chemistry(rules, pack.chemistry)
    full_v, spent_v = pack.series * of_cell.full_v, pack.series * of_cell.landing_rest_v
    wh = pack.held_ah * pack.series * cell.nominal_v * (of_cell.start_soc - of_cell.landing_soc)
    uses = []
    for tool in BENCH_TOOLS:
        fits = not (falls_short_of_volts(spent_v, tool.least_v) or passes_volts(full_v, tool.most_v))
        if fits and tool.watts / spent_v <= GENTLE_C * pack.held_ah:
            minutes = 60 * wh / tool.watts
            words = f"{tool.name} ({tool.watts:g} W), about {lasting(minutes, 2)}"
            uses.append(BenchUse(tool.name, minutes, words))
    return sorted(uses, key=lambda u: -u.minutes)
