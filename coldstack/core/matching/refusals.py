"""Why a charger cannot charge a pack, each in the owner's words."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.cells.chemistry import Chemistry, chemistry
from coldstack.core.chain.adapters import Path
from coldstack.core.chain.plugs import plug_family
from coldstack.core.charging.amps import Amps, Feed
from coldstack.core.charging.charger import Charger, Supply
from coldstack.core.packs.pack import Pack
from coldstack.core.units import lower_first, plain_number

LEAST_USEFUL_C = 0.2
"""Below a fifth of C a charge takes more than five hours: not called a fit. House figure."""


@dataclass(frozen=True, slots=True)
class Refusal:
    """Why a pack is not charged by a charger.

    ``id`` names the rule, ``short`` fits into a cell of the grid.
    """

    id: str
    short: str
    sentence: str


def is_useful(pack: Pack, amps: Amps) -> bool:
    """Whether the amps fill the pack within about five hours."""
    return amps.current_a > 0 and amps.current_a >= LEAST_USEFUL_C * pack.capacity_ah * (1 - 1e-9)


def refused_unfit(pack: Pack) -> list[Refusal]:
    if pack.fit:
        return []
    why = f": {pack.note}" if pack.note else ""
    return [Refusal("unfit", "unfit", f"{pack.name} is marked unfit{why}. It is not charged.")]


def refused_chemistry(pack: Pack, charger: Charger) -> list[Refusal]:
    if pack.chemistry in charger.chemistries:
        return []
    cell, known = chemistry(pack.chemistry), [chemistry(c) for c in charger.chemistries]
    *others, last = [c.name for c in known]
    names = f"{', '.join(others)} and {last}" if others else last
    why = _why_not(cell, [c for c in known if c.charge_method == "cc_cv"])
    return [Refusal("chemistry", f"no {cell.name}", f"{charger.name} charges {names} only: {why}.")]


def _why_not(cell: Chemistry, lithium: list[Chemistry]) -> str:
    """Why a cell is not charged by a program for another; ``lithium``: those that the charger has."""
    if cell.charge_method == "peak":
        if not lithium:
            return "it has no program for NiMH"
        return (
            "NiMH ends at the small drop of its volts after the peak; a lithium program would hold it at "
            f"{lithium[0].full_v:.2f} V a cell and never find that end"
        )
    if not lithium:
        needs = f"{cell.name} needs constant volts at the end, which a NiMH program has not"
        return f"{needs}: it would overcharge it"
    nearest = min(lithium, key=lambda c: abs(c.full_v - cell.full_v))
    full = f"{cell.name} is full at {cell.full_v:.2f} V a cell, and its {nearest.name} program"
    if nearest.full_v > cell.full_v:
        return f"{full} goes on to {nearest.full_v:.2f} V: an overcharge"
    if nearest.full_v < cell.full_v:
        ends = f"{full} ends at {nearest.full_v:.2f} V"
        return f"{ends}: it would stop short of full, and read the cells by the wrong volts"
    same = f"{cell.name} and {nearest.name} end at the same {cell.full_v:.2f} V"
    return f"{same}, but differ in storage and lowest volts"


def refused_cells(pack: Pack, charger: Charger) -> list[Refusal]:
    nimh = chemistry(pack.chemistry).charge_method == "peak"
    most = charger.nimh_cells_max if nimh else charger.series_max
    kind = "NiMH" if nimh else "lithium"
    if pack.series > most:
        return [
            Refusal(
                "cells",
                f"{pack.series}S > {most}S",
                f"{pack.series} {kind} cells in series; {charger.name} ends at {most}.",
            )
        ]
    if not nimh and pack.series < charger.series_min:
        return [
            Refusal(
                "cells",
                f"{pack.series} cell" + "s" * (pack.series > 1),
                f"{charger.name} starts at {charger.series_min} cells in series; the pack has {pack.series}.",
            )
        ]
    return []


def refused_input(charger: Charger, feed: Feed) -> list[Refusal]:
    if feed.source == "mains" or feed.supply is None or suits(charger, feed.supply):
        return []
    low, high = charger.dc_min_v, charger.dc_max_v
    wants = " to ".join(f"{v:g} V" for v in (low, high) if v is not None)
    return [
        Refusal(
            "input",
            "supply’s volts",
            f"{feed.supply.name} gives {feed.supply.voltage_v:g} V; {charger.name} wants {wants}.",
        )
    ]


def suits(charger: Charger, supply: Supply) -> bool:
    low, high = charger.dc_min_v, charger.dc_max_v
    return (low is None or supply.voltage_v >= low) and (high is None or supply.voltage_v <= high)


def refused_plugs(pack: Pack, charger: Charger, path: Path | None) -> list[Refusal]:
    if charger.by_balance or (path is not None and path.pairs):
        return []
    out = plug_family(charger.output_plug).name
    return [
        Refusal(
            "plugs",
            "no lead",
            f"No lead or adapter here takes {plug_family(pack.plug).name} to the charger’s {out}. A charge "
            f"lead {out} to {plug_family(pack.plug).name} would.",
        )
    ]


def refused_slow(pack: Pack, amps: Amps) -> list[Refusal]:
    if is_useful(pack, amps):
        return []
    if amps.binding.id == "cold" and amps.current_a == 0:
        return [Refusal("cold", "too cold or hot", f"{amps.binding.name}.")]
    least, n = LEAST_USEFUL_C * pack.capacity_ah, plain_number
    return [
        Refusal(
            "slow",
            "too slow",
            f"Only {n(amps.current_a)} A, {n(amps.current_a / pack.capacity_ah, 2)}C: below "
            f"{n(LEAST_USEFUL_C)}C ({n(least)} A) it takes more than five hours. Limit: "
            f"{lower_first(amps.binding.name)}.",
        )
    ]
