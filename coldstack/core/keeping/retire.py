"""Retiring a pack: the resistor that brings it slowly to nothing, how long it takes, and the steps."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import GRID_CELLS, ocv_curve, resting_voltage
from coldstack.core.charging.steps import BenchStep
from coldstack.core.errors import DomainError
from coldstack.core.packs.pack import Pack
from coldstack.core.units import plain_number
from coldstack.core.working import Step, Working

DRAIN_C = 0.05
MARGIN = 2.0
FLAT_CELL_V = 0.05
"""Below this a cell is as good as empty. House figure."""
EMPTY_TAIL_AH = 0.02
"""What is left below the curve's end, as a share of the capacity: the last volts fall away with it.

House figure.
"""


@dataclass(frozen=True, slots=True)
class Drain:
    """A resistor for one pack: ohms, the watts it must bear, hours from full and from a charge, in words and
    as working."""

    ohm: float
    watts: float
    hours_from_full: float
    hours: float
    sentence: str
    working: Working


def drain_resistor(pack: Pack, *, soc: float = 1.0) -> Drain:
    """About C/20: R = S·nominal ÷ (0.05·Ah); watts V²/R at full, twice for margin; hours by stepping V/R to
    nothing."""
    cell = chemistry(pack.chemistry)
    nominal, full = pack.series * cell.nominal_v, pack.series * cell.full_v
    ohm = nominal / (DRAIN_C * pack.capacity_ah)
    watts = MARGIN * full**2 / ohm
    from_full, hours = _hours(pack, ohm, 1.0), _hours(pack, ohm, soc)
    n = plain_number
    return Drain(
        ohm,
        watts,
        from_full,
        hours,
        f"A resistor of about {n(ohm, 2)} Ω, good for {n(math.ceil(watts))} W: about {hours:.0f} h to "
        "nothing.",
        Working(
            "Resistor",
            (
                Step(
                    "Ohms",
                    "S × nominal ÷ (0.05 × Ah)",
                    f"{n(nominal)} V ÷ ({DRAIN_C} × {n(pack.capacity_ah)} Ah) = {n(ohm)} Ω",
                ),
                Step(
                    "Watts",
                    "2 × full² ÷ Ω",
                    f"2 × ({n(full)} V)² ÷ {n(ohm)} Ω = {n(watts)} W",
                    "twice what it takes, so that it stays cool enough",
                ),
                Step(
                    "Hours",
                    "Ah out at V ÷ R, step by step",
                    f"{hours:.0f} h from {soc * 100:.0f} %, {from_full:.0f} h from full",
                ),
            ),
            "It gets hot all the same: outside, on stone, away from everything that burns.",
        ),
    )


def retire_steps(pack: Pack, drain: Drain) -> list[BenchStep]:
    """The steps, in order; local rules decide on transport and disposal."""
    return [
        BenchStep(
            "outside",
            "Take it outside, on stone or into sand, away from everything that burns. Stay within sight "
            "for the first hour.",
        ),
        BenchStep(
            "resistor",
            f"{drain.sentence} A lamp of about that power does as well.",
            "Slowly: a damaged pack must not warm.",
        ),
        BenchStep(
            "flat",
            f"Wait until the meter shows less than {plain_number(FLAT_CELL_V * pack.series, 2)} V, and an "
            "hour later still does.",
        ),
        BenchStep("insulate", "Cut and insulate the leads one at a time, and tape over the plug."),
        BenchStep(
            "hand_in",
            "Hand it in where your local rules say. Never into a bin, never punctured; damaged packs by "
            "carriers’ rules only.",
        ),
    ]


RETIRE_STEPS = ("outside", "resistor", "flat", "insulate", "hand_in")


def is_retired(pack: Pack, ticked: Sequence[str]) -> bool:
    """Whether every step was done.

    Raises
    ------
    DomainError
        For a step that is not one, or a last step for a pack that is still in use.
    """
    for step in ticked:
        if step not in RETIRE_STEPS:
            raise DomainError("ticked", f"A step is one of {', '.join(RETIRE_STEPS)}, not “{step}”.")
    done = set(ticked) == set(RETIRE_STEPS)
    if done and pack.fit:
        raise DomainError("ticked", "Take it out of use first: nobody should charge or run it meanwhile.")
    return done


def _hours(pack: Pack, ohm: float, soc: float) -> float:
    """Hours through the resistor: through the open-circuit curve in steps of a thousandth, then the tail
    below it at half its end's volts."""
    steps = max(1, round(soc * 1000))
    middles = soc * (1 - (np.arange(steps) + 0.5) / steps)
    volts = pack.series * np.interp(middles, np.linspace(0, 1, GRID_CELLS + 1), ocv_curve(pack.chemistry))
    hours = float((soc / steps * pack.capacity_ah * ohm / volts).sum())
    end_v = pack.series * resting_voltage(pack.chemistry, 0.0)
    # below the curve the volts fall about in proportion to what is left: an exponential to the flat end
    return hours + EMPTY_TAIL_AH * pack.capacity_ah * ohm / end_v * math.log(
        end_v / (pack.series * FLAT_CELL_V)
    )
