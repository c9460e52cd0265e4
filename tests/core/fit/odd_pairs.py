"""Packs in models that they were not bought for, as clubs see them, with what a careful practitioner would
say. All made up."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.describing.answers import GoalAnswers, LimitAnswers
from coldstack.core.fit.verdict import FitVerdict
from coldstack.core.packs.pack import Pack
from tests.core.describing.models import PackHistory, amps, minutes, runs_on, told

TWIN = told(
    "3S twin",
    "plane",
    900,
    runs_on(3, 2200, 180, label_c=30),
    amps(14, 34),
    GoalAnswers(8),
    LimitAnswers(cells_max=4),
)
GLIDER = told(
    "3S glider",
    "sailplane",
    650,
    runs_on(3, 1300, 115, label_c=30),
    amps(5, 28, 8),
    GoalAnswers(12, 180),
    LimitAnswers(cells_max=3, controller_a=40),
)
HELI = told(
    "6S helicopter",
    "helicopter",
    1900,
    runs_on(6, 3300, 525, label_c=45),
    minutes(6, 90),
    GoalAnswers(5),
    LimitAnswers(cells_max=6, controller_a=100),
)
QUAD = told(
    "4S quad",
    "multirotor",
    280,
    runs_on(4, 850, 105, label_c=95),
    amps(16, 62, 1.5),
    GoalAnswers(2),
    LimitAnswers(cells_max=6, controller_a=35, controllers=4, plug="xt30", lead_awg=16),
    rotors=4,
)
TANK = told(
    "NiMH tank",
    "tracked",
    3500,
    runs_on(6, 3300, 380, "nimh"),
    minutes(25, 18),
    GoalAnswers(20),
    LimitAnswers(cells_max=2, cutoff="none", brushed=True, plug="t_plug"),
)
TUG = told(
    "3S tug",
    "boat",
    5200,
    runs_on(3, 8000, 500, label_c=25),
    amps(6, 20, 10),
    GoalAnswers(45),
    LimitAnswers(cells_max=3),
)
RACER = told(
    "2S racer",
    "car",
    1350,
    runs_on(2, 4800, 260, label_c=75),
    amps(24, 75, 2),
    GoalAnswers(8),
    LimitAnswers(cells_max=2, controller_a=100, plug="ec5", lead_awg=10),
)


def own(series, mah, mass_g, *, chemistry="lipo", label_c=30.0, plug="xt60", **more) -> Pack:
    """A pack of one's own."""
    name = f"{series}S {mah} {chemistry}"
    figures = {"label_c": label_c, "plug": plug, "lead_awg": more.pop("lead_awg", 12), **more}
    return Pack(f"owned:{name}", name, chemistry, series, mah / 1000, mass_g, owned=True, **figures)


@dataclass(frozen=True)
class Pair:
    """A pack in a model, the verdict, and the reason that decides; empty for none."""

    name: str
    model: PackHistory
    pack: Pack
    verdict: FitVerdict
    reason: str


PAIRS = (
    Pair("a 2S in a 3S twin", TWIN, own(2, 2200, 118), "wont", "fly.punch"),
    Pair("a heavy 2S in a 3S glider", GLIDER, own(2, 5000, 271), "wont", "fly.punch"),
    Pair("a heavy 3S in a 3S glider", GLIDER, own(3, 2600, 240), "wont", "fly.heavier"),
    Pair("a 3S that is a little heavier than it may", GLIDER, own(3, 1900, 160), "does", ""),
    Pair("a small 4S in a 6S helicopter", HELI, own(4, 850, 105, label_c=95), "wont", "fly.punch"),
    Pair(
        "LiHV in a NiMH tank", TANK, own(2, 4600, 227, chemistry="lihv", plug="t_plug"), "wont", "window.full"
    ),
    Pair("LiPo in a NiMH tank", TANK, own(2, 5000, 280, plug="t_plug"), "care", "cutoff.knows"),
    Pair(
        "the tank’s own kind",
        TANK,
        own(6, 3300, 380, chemistry="nimh", label_c=10, plug="t_plug"),
        "care",
        "window.full",
    ),
    # its peaks are more than any cells give honestly for ten seconds; it runs so today
    Pair(
        "the quad’s own pack",
        QUAD,
        own(4, 850, 105, label_c=95, plug="xt30", lead_awg=16),
        "care",
        "cells.burst",
    ),
    Pair(
        "a 3S in the 4S quad",
        QUAD,
        own(3, 1300, 115, label_c=75, plug="xt30", lead_awg=16),
        "wont",
        "fly.punch",
    ),
    Pair(
        "a 6S in the 4S quad",
        QUAD,
        own(6, 1300, 218, label_c=95, plug="xt30", lead_awg=16),
        "wont",
        "fly.heavier",
    ),
    Pair("a 2S in a 3S tug", TUG, own(2, 5000, 275), "care", "fly.punch"),
    Pair("a 4S in a 3S tug", TUG, own(4, 5000, 510), "wont", "window.full"),
    Pair("the tug’s own kind", TUG, own(3, 8000, 500, label_c=25), "does", ""),
    Pair(
        "a white block in a racer",
        RACER,
        own(2, 4800, 227, label_c=50, plug="block_large"),
        "wont",
        "plug.mates",
    ),
    Pair("another racer’s pack", RACER, own(2, 5000, 270, label_c=70, plug="ec5", lead_awg=10), "does", ""),
    Pair(
        "a swollen one", TUG, own(3, 8000, 500, label_c=25, fit=False, note="swollen"), "wont", "pack.unfit"
    ),
)
