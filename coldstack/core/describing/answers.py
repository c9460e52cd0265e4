"""What an owner tells of a new model: a few answers, each of which may be left out but what it is, its
mass and what it runs on."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.describing.model_classes import model_class
from coldstack.core.describing.model_kinds import model_kind
from coldstack.core.draw.duty import AMPS, PEAK_AMPS
from coldstack.core.errors import DomainError, between, faults, refuse
from coldstack.core.fields import common as ask
from coldstack.core.fields.quantity import Choice, Quantity, Words
from coldstack.core.fields.table import Check, bounds
from coldstack.core.propulsion.told import NOT_TOLD, Propulsion, check_propulsion
from coldstack.core.trial.job import CONTROLLERS, MOTOR_KV, Airflow, Cutoff, Ratings, RunsOn

LEAST_MINUTES, MOST_MINUTES = 0.5, 300.0
FASTEST_C = 150.0
"""Average draw over capacity beyond which a slip of the finger is likelier than a model. [1/h]"""


@dataclass(frozen=True, slots=True)
class UsageAnswers:
    """How it goes on what it runs on now, as far as its owner knows. ``minutes`` to landing, or of the run
    after which ``put_back_mah`` went back."""

    minutes: Annotated[
        float | None, Quantity("Minutes", unit="min", low=LEAST_MINUTES, high=MOST_MINUTES)
    ] = None
    put_back_mah: Annotated[float | None, Quantity("What went back", unit="mAh", low=1)] = None
    average_a: Annotated[float | None, AMPS] = None
    peak_a: Annotated[float | None, PEAK_AMPS] = None
    peak_s: Annotated[float | None, Quantity("Length of the peak", unit="s", low=0.1, high=600)] = None


@dataclass(frozen=True, slots=True)
class LimitAnswers:
    """What electronics and room may see; None where the owner does not say. ``max_v`` for those who
    think in volts."""

    cells_min: Annotated[int | None, replace(ask.SERIES, label="Fewest cells")] = None
    cells_max: Annotated[int | None, replace(ask.SERIES, label="Most cells")] = None
    max_v: Annotated[float | None, Quantity("Highest volts", unit="V", low=1, high=130)] = None
    controller_a: Annotated[float | None, Quantity("Controller", unit="A", low=0.1, high=2000)] = None
    controller_burst_a: Annotated[
        float | None, Quantity("Controller, burst", unit="A", low=0.1, high=2000)
    ] = None
    controllers: Annotated[int | None, CONTROLLERS] = None
    ratings: Ratings = "each"
    cutoff: Cutoff | None = None
    brushed: bool = False
    motor_kv: Annotated[float | None, MOTOR_KV] = None
    plug: Annotated[str | None, Choice("Plug")] = None
    lead_awg: Annotated[float | None, ask.LEADS] = None
    length_mm: float | None = None
    width_mm: float | None = None
    height_mm: float | None = None
    airflow: Airflow | None = None


@dataclass(frozen=True, slots=True)
class GoalAnswers:
    """What is wanted: minutes, the heaviest pack, how lively. ``chemistry`` and ``cells`` where
    another pack than now's is wanted."""

    minutes: Annotated[float | None, Quantity("Minutes wanted", unit="min", low=0.1, high=600)] = None
    mass_g: Annotated[float | None, Quantity("Pack, at most", unit="g", low=0.5, high=50_000)] = None
    lively: float | None = 0.9
    chemistry: Annotated[str | None, ask.CHEMISTRY] = None
    cells: int | None = None
    refitted: bool = False


@dataclass(frozen=True, slots=True)
class Answers:
    """All that was told of a model.

    ``now`` without a mass is taken to weigh what such packs weigh; ``now_plug`` is the plug of an
    owned pack, which the model then carries too, unless its owner says otherwise.
    """

    name: Annotated[str, Words("Name")]
    kind: str
    mass_g: Annotated[float, ask.MODEL_MASS]
    now: RunsOn
    now_mass_told: bool = True
    now_plug: str | None = None
    model_class: str | None = None
    """Its class within its kind; None where its owner did not choose one."""
    rotors: Annotated[int | None, Quantity("Rotors", low=2, high=16)] = None
    usage: UsageAnswers = UsageAnswers()
    limits: LimitAnswers = LimitAnswers()
    goals: GoalAnswers = GoalAnswers()
    propulsion: Propulsion = NOT_TOLD
    mass_told: bool = True
    capacity_told: bool = True
    """Whether its owner gave the model's mass, and the capacity of what it runs on; else both are supposed
    (`supposed`)."""
    sure: tuple[str, ...] = ()
    """Fields of which its owner was asked whether it is so, and it is."""


def controllers(a: Answers) -> int:
    """How many controllers it has: as told, else one a rotor."""
    motors = model_kind(a.kind).motors
    return a.limits.controllers or (a.rotors or motors if motors > 1 else 1)


def motors(a: Answers) -> int:
    """How many motors it has: one a rotor where it has several, else one a controller."""
    usual = model_kind(a.kind).motors
    return a.rotors or usual if usual > 1 else controllers(a)


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
    refuse(
        faults(
            lambda: chemistry(a.now.chemistry),
            *bounds(a),
            *bounds(a.now, "now.", without=("cell_mohm",)),
            *bounds(a.goals, "goals."),
            *_usage_checks(a.usage, a.now),
            *bounds(a.limits, "limits."),
            lambda: _check_cells(a.limits),
            lambda: check_propulsion(a.propulsion),
        )
    )
    return a


def _usage_checks(g: UsageAnswers, now: RunsOn) -> list[Check]:
    def timed() -> None:
        if g.put_back_mah is not None and g.minutes is None:
            raise DomainError("usage.minutes", "After how many minutes did so much go back?")

    ah = max(now.capacity_ah, ask.LEAST_AH)
    return [
        timed,
        between("usage.average_a", "Average", g.average_a, AMPS.low, FASTEST_C * ah, "A"),
        *bounds(g, "usage."),
    ]


def _check_cells(t: LimitAnswers) -> None:
    if t.cells_min is not None and t.cells_max is not None and t.cells_min > t.cells_max:
        raise DomainError(
            "limits.cells_min",
            f"The fewest cells ({t.cells_min}) cannot be more than the most ({t.cells_max}).",
        )
