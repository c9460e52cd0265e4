"""The day by hand: a pack's round, and how many packs and ports it takes."""

from __future__ import annotations

from coldstack.core.running.day.charging import DayCharge
from coldstack.core.running.day.rotation import Day
from coldstack.core.units import plain_number as n
from coldstack.core.working import Step, Working


def day_working(day: Day, charge: DayCharge) -> Working:
    """What bounds the packs and ports: a pack is back after a whole round, and one starts every run and
    swap."""
    every, round_min = day.run_min + day.swap_min, day.run_min + day.cool_min + day.charge_min
    return Working(
        "The day",
        (
            Step(
                "A charge",
                charge.binding[0].lower() + charge.binding[1:],
                f"{n(charge.current_a)} A, {n(day.charge_min)} min from the landing point to full",
            ),
            Step(
                "A round",
                "run + cool + charge",
                f"{n(day.run_min)} + {n(day.cool_min)} + {n(day.charge_min)} = {n(round_min)} min",
            ),
            Step("A start every", "run + swap", f"{n(day.run_min)} + {n(day.swap_min)} = {n(every)} min"),
            Step(
                "Packs at least",
                "round ÷ start, rounded up",
                f"{n(round_min)} ÷ {n(every)} = {n(round_min / every)}",
                "with a free port each time",
            ),
            Step(
                "Ports at least",
                "charge ÷ start, rounded up",
                f"{n(day.charge_min)} ÷ {n(every)} = {n(day.charge_min / every)}",
            ),
            Step("Energy", "charges × Wh of a charge at the supply", f"{n(charge.wh)} Wh each"),
        ),
        "The day itself is played event by event; it ends with its hours, so a short one may need fewer.",
    )
