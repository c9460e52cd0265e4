"""How the figures of a pack's page were found: honest C, what is due, the forecast."""

from __future__ import annotations

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.resistance import HEAT_PER_AH_W, honest_c_of
from coldstack.core.keeping.records import Trend, cycles_until
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import State
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.units import DEG
from coldstack.core.units import plain_number as n
from coldstack.core.working import Step, Working


def honest_c_working(cell_mohm: float, capacity_ah: float) -> Working:
    """Honest C from a cell's resistance at 25 °C and the label's capacity."""
    c = honest_c_of(cell_mohm, capacity_ah)
    return Working(
        "Honest C",
        (
            Step("Resistance now", f"median of the latest readings at 25{DEG}", f"{n(cell_mohm)} mΩ a cell"),
            Step(
                "Amps",
                f"√({HEAT_PER_AH_W:g} W/Ah × Ah ÷ R)",
                f"√({HEAT_PER_AH_W:g} × {n(capacity_ah)} ÷ {n(cell_mohm / 1000)} Ω) = {n(c * capacity_ah)} A",
                "each cell turns 6.25 W per Ah into heat",
            ),
            Step("Honest C", "A ÷ Ah", f"{n(c * capacity_ah)} A ÷ {n(capacity_ah)} Ah = {n(c)}C"),
        ),
    )


def due_working(pack: Pack, state: State | None, since_h: float, rules: HouseRules) -> Working | None:
    """When a pack is due for storage; None where nothing is."""
    cell = chemistry(pack.chemistry)
    if state in (None, "stored") or cell.storage_v is None:
        return None
    times = rules.liion_storage_times if cell.patient else 1.0
    within = rules.storage_within_h * times
    left = within - since_h
    allowed = f"{n(rules.storage_within_h)} h" + (
        f" × {n(times)} for {cell.name} = {n(within)} h" if times != 1 else ""
    )
    return Working(
        "Due for storage",
        (
            Step(
                "So long already",
                "since that was first noted, or since the charge or run that made it so",
                f"{n(since_h)} h",
            ),
            Step("Allowed", "to storage within", allowed, rules.cited),
            Step(
                "Left" if left >= 0 else "Overdue",
                "allowed − so long",
                f"{n(within)} h − {n(since_h)} h = {n(left)} h",
            ),
        ),
    )


def forecast_working(
    capacity: Trend | None, resistance: Trend | None, first_mohm: float | None, rules: HouseRules
) -> Working | None:
    """Cycles left by each trend; None while it is too early for both."""
    steps: list[Step] = []
    if capacity is not None:
        steps += _by("Capacity", capacity, rules.capacity_end, "of the label", 100.0, " %", rules)
    if resistance is not None and first_mohm is not None:
        steps += _by(
            "Resistance",
            resistance,
            rules.growth_bad * first_mohm,
            f"= {n(rules.growth_bad)} × its first {n(first_mohm)} mΩ",
            1.0,
            " mΩ",
            rules,
        )
    if not steps:
        return None
    return Working(
        "Cycles left",
        tuple(steps),
        "Theil–Sen lines: the median of the slopes between all pairs of readings. The range is that of the "
        "slope; the sooner of both counts.",
    )


def _by(
    name: str, t: Trend, limit: float, words: str, times: float, unit: str, rules: HouseRules
) -> list[Step]:
    left = cycles_until(t, limit)
    if left is None:
        reach = "it moves away from it"
    else:
        middle, low, high = left
        reach = f"about {middle} cycles, {low} to {'many' if high is None else high}"
    return [
        Step(f"{name} now", f"the line at the latest of {t.count} readings", f"{n(t.now * times)}{unit}"),
        Step(
            "A cycle",
            "slope, with its range",
            f"{n(t.slope * times, 2)}{unit} ({n(t.slope_low * times, 2)} to {n(t.slope_high * times, 2)})",
        ),
        Step("Until", f"{n(limit * times)}{unit} {words}", reach, rules.cited),
    ]
