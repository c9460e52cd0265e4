"""A job and a stock for the sizing tests: made up, small, and changed where a test needs it."""

from __future__ import annotations

from dataclasses import replace

from coldstack.core.draw.duty import duty_from_figures
from coldstack.core.draw.motion import motion_of
from coldstack.core.packs.pack import CellType, Pack
from coldstack.core.rules.house_rules import house_rules
from coldstack.core.sizing.plan import Stock
from coldstack.core.trial.job import Bay, Electronics, Job, Wants


def job(*, motion="level_flight", draw=None, wants=None, electronics=None, bay=None, **changes) -> Job:
    """A 1.5 kg aeroplane on 4S that draws 12 A, 40 A at the peak."""
    moves = motion_of(motion)
    figures = {
        "average_a": 12.0,
        "peak_a": 40.0,
        "peak_s": 5.0,
        "peak_every_s": 40.0,
        "reference_voltage_v": 14.8,
        "reference_mass_g": 1900.0,
        "spread": 0.1,
        **(draw or {}),
    }
    made = Job(
        name="test",
        motion=moves,
        mass_g=1500.0,
        duty=duty_from_figures(motion=moves, **figures),
        wants=Wants(**{"minutes": 12.0, "mass_g": 450.0, "chemistries": ("lipo",), **(wants or {})}),
        electronics=Electronics(
            **{
                "max_v": 16.8,
                "rated_cells": 4,
                "min_v": 9.0,
                "controller_continuous_a": 60.0,
                "controller_burst_a": 80.0,
                "motor_continuous_a": 45.0,
                "motor_burst_a": 70.0,
                "lead_awg": 12,
                **(electronics or {}),
            }
        ),
        bay=Bay(**{"length_mm": 160.0, "width_mm": 56.0, "height_mm": 46.0, **(bay or {})}),
        rules=house_rules("steady"),
    )
    return replace(made, **changes)


def pack(name="4S 4000", **changes) -> Pack:
    """A 4S 4 Ah LiPo of 30C, known by its label."""
    figures = {
        "id": f"pack:{name}",
        "name": name,
        "chemistry": "lipo",
        "series": 4,
        "capacity_ah": 4.0,
        "mass_g": 380.0,
        "length_mm": 135.0,
        "width_mm": 44.0,
        "height_mm": 31.0,
        "label_c": 30.0,
        "plug": "xt60",
        "lead_awg": 12,
        "price": 40.0,
    }
    return Pack(**{**figures, **changes})


def cell(**changes) -> CellType:
    """A 21700 cell of 4.5 Ah and 22 A."""
    figures = {
        "id": "1",
        "name": "21700 4.5 Ah",
        "chemistry": "liion",
        "capacity_ah": 4.5,
        "mass_g": 69.0,
        "diameter_mm": 21.4,
        "length_mm": 70.1,
        "continuous_a": 22.0,
        "burst_a": 35.0,
        "resistance_mohm": 14.0,
        "price": 6.0,
    }
    return CellType(**{**figures, **changes})


def stock(*packs: Pack, cells=()) -> Stock:
    """These packs and cells."""
    return Stock(packs=packs, cells=tuple(cells))
