"""What an owner tells of a new model: a few answers, each of which may be left out but what it is, its
mass and what it runs on."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.counts import LEAST_SERIES, MOST_SERIES
from coldstack.core.describing.model_classes import model_class
from coldstack.core.describing.model_kinds import model_kind
from coldstack.core.errors import DomainError, require_between
from coldstack.core.trial.job import Airflow, Cutoff, Ratings, RunsOn

LEAST_MINUTES, MOST_MINUTES = 0.5, 300.0
FASTEST_C = 150.0
"""Average draw over capacity beyond which a slip of the finger is likelier than a model. [1/h]"""


@dataclass(frozen=True, slots=True)
class Goes:
    """How it goes on what it runs on now, as far as its owner knows. ``minutes`` to landing, or of the run
    after which ``put_back_mah`` went back."""

    minutes: float | None = None
    put_back_mah: float | None = None
    average_a: float | None = None
    peak_a: float | None = None
    peak_s: float | None = None


@dataclass(frozen=True, slots=True)
class Takes:
    """What electronics and room may see; None where the owner does not say. ``max_v`` for those who
    think in volts."""

    cells_min: int | None = None
    cells_max: int | None = None
    max_v: float | None = None
    controller_a: float | None = None
    controller_burst_a: float | None = None
    controllers: int | None = None
    ratings: Ratings = "each"
    cutoff: Cutoff | None = None
    brushed: bool = False
    motor_kv: float | None = None
    plug: str | None = None
    lead_awg: float | None = None
    length_mm: float | None = None
    width_mm: float | None = None
    height_mm: float | None = None
    airflow: Airflow | None = None


@dataclass(frozen=True, slots=True)
class Wish:
    """What is wanted: minutes, the heaviest pack, how lively. ``chemistry`` and ``cells`` where
    another pack than now's is wanted."""

    minutes: float | None = None
    mass_g: float | None = None
    lively: float | None = 0.9
    chemistry: str | None = None
    cells: int | None = None
    refitted: bool = False


@dataclass(frozen=True, slots=True)
class Answers:
    """All that was told of a model.

    ``now`` without a mass is taken to weigh what such packs weigh; ``now_plug`` is the plug of an
    owned pack, which the model then carries too, unless its owner says otherwise.
    """

    name: str
    kind: str
    mass_g: float
    now: RunsOn
    now_mass_told: bool = True
    now_plug: str | None = None
    model_class: str | None = None
    """Its class within its kind; None where its owner did not choose one."""
    rotors: int | None = None
    goes: Goes = Goes()
    takes: Takes = Takes()
    wish: Wish = Wish()


def check_answers(a: Answers) -> Answers:
    """The answers themselves, if every figure is possible.

    Raises
    ------
    DomainError
        Naming the question.
    """
    kind = model_kind(a.kind)
    if a.model_class:
        model_class(a.model_class, kind.id)
    chemistry(a.now.chemistry)
    require_between("mass_g", "Mass without the pack", a.mass_g, low=5, high=200_000, unit="g")
    require_between("now.series", "Cells in series", a.now.series, low=LEAST_SERIES, high=MOST_SERIES)
    require_between("now.capacity_ah", "Capacity", a.now.capacity_ah, low=0.01, high=200, unit="Ah")
    require_between("now.mass_g", "Mass of the pack", a.now.mass_g, low=0.5, high=50_000, unit="g")
    if a.now.label_c is not None:
        require_between("now.label_c", "C on its label", a.now.label_c, low=0.1, high=500, unit="C")
    if a.wish.minutes is not None:
        require_between("wish.minutes", "Minutes wanted", a.wish.minutes, low=0.1, high=600, unit="min")
    if a.rotors is not None:
        require_between("rotors", "Rotors", a.rotors, low=2, high=16)
    _check_goes(a.goes, a.now)
    _check_takes(a.takes)
    return a


def _check_goes(g: Goes, now: RunsOn) -> None:
    if g.put_back_mah is not None and g.minutes is None:
        raise DomainError("goes.minutes", "After how many minutes did so much go back?")
    if g.minutes is not None:
        require_between(
            "goes.minutes", "Minutes", g.minutes, low=LEAST_MINUTES, high=MOST_MINUTES, unit="min"
        )
    if g.put_back_mah is not None:
        most = 1100.0 * now.capacity_ah
        require_between("goes.put_back_mah", "What went back", g.put_back_mah, low=1, high=most, unit="mAh")
    if g.average_a is not None:
        require_between(
            "goes.average_a", "Average", g.average_a, low=0.01, high=FASTEST_C * now.capacity_ah, unit="A"
        )
    if g.peak_a is not None:
        require_between("goes.peak_a", "Peak", g.peak_a, low=0.01, high=2000, unit="A")
    if g.peak_s is not None:
        require_between("goes.peak_s", "Length of the peak", g.peak_s, low=0.1, high=600, unit="s")


def _check_takes(t: Takes) -> None:
    for field, name, count, high in (
        ("cells_min", "Fewest cells", t.cells_min, MOST_SERIES),
        ("cells_max", "Most cells", t.cells_max, MOST_SERIES),
        ("controllers", "Number of controllers", t.controllers, 16),
    ):
        if count is not None:
            require_between(f"takes.{field}", name, count, low=1, high=high)
    if t.cells_min is not None and t.cells_max is not None and t.cells_min > t.cells_max:
        raise DomainError(
            "takes.cells_min",
            f"The fewest cells ({t.cells_min}) cannot be more than the most ({t.cells_max}).",
        )
    if t.max_v is not None:
        require_between("takes.max_v", "Highest volts", t.max_v, low=1, high=130, unit="V")
    for field, name, value in (
        ("controller_a", "Controller", t.controller_a),
        ("controller_burst_a", "Controller, burst", t.controller_burst_a),
    ):
        if value is not None:
            require_between(f"takes.{field}", name, value, low=0.1, high=2000, unit="A")
