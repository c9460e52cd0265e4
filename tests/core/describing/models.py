"""Models as their owners tell them, made up: of every kind, from tiny to large. Used as a table by the
tests."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.describing.answers import Answers, GoalAnswers, LimitAnswers, UsageAnswers
from coldstack.core.packs.masses import typical_mass_g
from coldstack.core.trial.job import RunsOn


def runs_on(series, mah, mass_g=None, chemistry="lipo", label_c=None):
    """What a model runs on now; a usual mass where none is told."""
    usual = typical_mass_g(chemistry, series, mah / 1000)
    return RunsOn(chemistry, series, mah / 1000, mass_g or usual, label_c)


def minutes(m, peak_a=None):
    """So many minutes to landing."""
    return UsageAnswers(minutes=m, peak_a=peak_a)


def amps(average_a, peak_a=None, peak_s=None):
    """Amps by a meter."""
    return UsageAnswers(average_a=average_a, peak_a=peak_a, peak_s=peak_s)


@dataclass(frozen=True)
class PackHistory:
    """A model with its name in the table."""

    name: str
    answers: Answers


def told(name, kind, mass_g, now, usage=None, goals=None, limits=None, rotors=None) -> PackHistory:
    """One row of the table."""
    answers = Answers(
        name,
        kind,
        mass_g,
        now,
        rotors=rotors,
        usage=usage or UsageAnswers(),
        limits=limits or LimitAnswers(),
        goals=goals or GoalAnswers(),
    )
    return PackHistory(name, answers)


RACER = told(
    "5S racer",
    "multirotor",
    520,
    runs_on(5, 1500, 220),
    amps(21, 84, 2),
    GoalAnswers(3.8, 270),
    LimitAnswers(cells_min=3, cells_max=6, controller_a=45, controllers=4),
    rotors=4,
)
TRAINER = told(
    "3S trainer",
    "plane",
    1200,
    runs_on(3, 2200, 180),
    amps(8.5, 26),
    GoalAnswers(11),
    LimitAnswers(controller_a=40),
)
TRUCK = told(
    "six-cell truck",
    "truck",
    1800,
    runs_on(6, 3000, chemistry="nimh"),
    minutes(25),
    GoalAnswers(20, chemistry="lipo"),
    LimitAnswers(cells_max=2, cutoff="none", brushed=True),
)
TWENTY = (
    RACER,
    TRAINER,
    told("tiny quad", "multirotor", 28, runs_on(1, 300, 8, "lihv"), minutes(4), GoalAnswers(4), rotors=4),
    told("3S toothpick", "multirotor", 75, runs_on(3, 450, 42), minutes(4.5), GoalAnswers(4.5), rotors=4),
    told("camera quad", "multirotor", 600, runs_on(4, 2200), minutes(9), GoalAnswers(9), rotors=4),
    told(
        "long-range quad",
        "multirotor",
        900,
        runs_on(6, 4200, chemistry="liion"),
        minutes(25),
        GoalAnswers(24),
        LimitAnswers(cells_min=4, cells_max=6),
        rotors=4,
    ),
    told("lifting hexa", "multirotor", 2600, runs_on(6, 10000), minutes(18), GoalAnswers(18), rotors=6),
    told("indoor flyer", "plane", 140, runs_on(2, 350), minutes(8), GoalAnswers(8, 30)),
    told(
        "big scale plane",
        "plane",
        3900,
        runs_on(6, 5000, 760),
        amps(24, 75),
        GoalAnswers(9),
        LimitAnswers(controller_a=100),
    ),
    told(
        "fan jet",
        "jet",
        2400,
        runs_on(6, 5000),
        amps(55, 95),
        GoalAnswers(3.5),
        LimitAnswers(controller_a=120, cells_max=6),
    ),
    told("sport helicopter", "helicopter", 1900, runs_on(6, 3700), minutes(6), GoalAnswers(6)),
    told(
        "12S helicopter",
        "helicopter",
        4300,
        runs_on(12, 5000, 1450),
        minutes(7),
        GoalAnswers(6.5),
        LimitAnswers(cells_max=12, controller_a=130),
    ),
    told(
        "buggy",
        "car",
        2900,
        runs_on(4, 5000),
        UsageAnswers(minutes=20, put_back_mah=3900),
        GoalAnswers(20),
        LimitAnswers(cells_max=6),
    ),
    told(
        "2S touring car",
        "car",
        1250,
        runs_on(2, 5000, 290),
        minutes(14),
        GoalAnswers(12),
        LimitAnswers(controller_a=80),
    ),
    told("NiMH car", "car", 1500, runs_on(6, 3300, chemistry="nimh"), minutes(10), GoalAnswers(10)),
    told("crawler", "truck", 2200, runs_on(3, 2200), minutes(50), GoalAnswers(60)),
    told("bait boat", "boat", 4500, runs_on(3, 8000), minutes(60), GoalAnswers(60)),
    told("LiFePO4 launch", "boat", 2500, runs_on(2, 4200, chemistry="lifepo4"), minutes(40), GoalAnswers(35)),
    told(
        "hotliner",
        "sailplane",
        1600,
        runs_on(4, 3300),
        amps(10, 110, 6),
        GoalAnswers(12),
        LimitAnswers(controller_a=120),
    ),
    told("hand-launched glider", "sailplane", 60, runs_on(1, 300), minutes(10), GoalAnswers(10)),
    told("tank", "tracked", 4000, runs_on(2, 5000), minutes(35), GoalAnswers(30)),
    told("unmeasured plane", "plane", 1000, runs_on(3, 2200), goals=GoalAnswers(10)),
)
