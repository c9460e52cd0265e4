"""What sizing is asked: a job, and what to make of it. Names and units are the core's."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import asdict
from typing import Annotated, Any, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, ValidationInfo, field_validator, model_validator

from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.draw.duty import Phase
from coldstack.core.draw.motion import MotionId
from coldstack.core.draw.scaling import Drive
from coldstack.core.equipment.equipment import Equipment
from coldstack.core.equipment.job import load_as_draw
from coldstack.core.errors import DomainError
from coldstack.core.propulsion.told import Propulsion
from coldstack.core.sizing.front import SHORTLIST_ROWS, Aim
from coldstack.core.trial.job import Bay, Electronics, RunsOn, Wants
from coldstack.server.api.shapes import asks, figure_of, value_of

Source = Literal["typed", "log", "sheet", "estimate", "measured"]

MOST_ASSUMED = 40
"""Names of figures that nobody gave, of one job."""


class In(BaseModel):
    """Input: unknown fields are refused, NaN and infinity too."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    @field_validator("*", mode="before")
    @classmethod
    def _as_people_type(cls, given: Any, info: ValidationInfo) -> Any:
        return figure_of(cls, info.field_name or "", given) if isinstance(given, str) else given


@asks(Phase)
class PhaseIn(In):
    """A phase of a duty."""


class DrawIn(In):
    """What the model draws. With ``phases`` (from a log) they count; else average, peak and how often it
    comes."""

    source: Source = "typed"
    source_note: Annotated[str, Field(max_length=120)] = ""
    average_a: float
    peak_a: float
    peak_s: float
    peak_every_s: float
    reference_voltage_v: float
    reference_mass_g: float
    peak_voltage_v: float | None = None
    spread: float = 0.10
    phases: Annotated[list[PhaseIn], Field(max_length=200)] | None = None


@asks(Wants)
class WantsIn(In):
    """What its owner wants; null where it does not matter."""


@asks(Electronics)
class ElectronicsIn(In):
    """What controller and motor can take. Rated in LiPo cells, ``max_v`` may be left out; so may
    ``min_v``."""

    max_v: float | None = None
    min_v: float | None = 0.0


@asks(Bay)
class BayIn(In):
    """Where the pack sits."""


@asks(RunsOn)
class RunsOnIn(In):
    """What the model runs on now; ``pack`` is the id of an owned one, if it is one."""


@asks(Propulsion)
class PropulsionIn(In):
    """What drives the model, of which its draw can be estimated; each figure can be left out."""


@asks(Equipment)
class EquipmentIn(In):
    """What a pack serves that is no model: load, bursts, hours, the volts it accepts, a regulator between."""


def load_as_draw_in(equipment: EquipmentIn) -> DrawIn:
    """What equipment takes, as a draw.

    Raises
    ------
    DomainError
        For figures that cannot be, naming the field.
    """
    figures, true_for = load_as_draw(value_of(Equipment, equipment))
    return DrawIn(source_note="its load", **asdict(figures), **asdict(true_for))


class JobIn(In):
    """All that sizing needs to know. ``assumed`` names the fields that nobody gave
    ("electronics.lead_awg")."""

    name: Annotated[str, Field(max_length=80)] = "model"
    motion: MotionId
    mass_g: float
    drive: Drive = "same"
    house_rules: str = "steady"
    label_trust: LabelTrust = "cautious"
    draw: DrawIn
    wants: WantsIn = WantsIn()
    electronics: ElectronicsIn
    bay: BayIn = BayIn()
    now: RunsOnIn | None = None
    propulsion: PropulsionIn = PropulsionIn()
    equipment: EquipmentIn | None = None
    """Where it is set, load, window and hours go by it, and the draw is not asked: it follows."""
    assumed: Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=MOST_ASSUMED)] = []

    @model_validator(mode="after")
    def _draw_follows(self) -> Self:
        if self.equipment is not None:
            # what cannot be is refused at its field by whoever makes a job of it
            with suppress(DomainError):
                self.draw = load_as_draw_in(self.equipment)
        return self


class FinenessIn(In):
    """How fine the grid of made-up packs is."""

    capacity_steps: Annotated[int, Field(ge=2, le=120)] = 24
    c_steps: Annotated[int, Field(ge=2, le=60)] = 8


class PlanIn(In):
    """A request for a plan."""

    job: JobIn
    aim: Aim = "all_round"
    rows: Annotated[int, Field(ge=1, le=400)] = SHORTLIST_ROWS
    fineness: FinenessIn = FinenessIn()
    in_full: bool = False
    """Answers with one candidate in full too: that of ``pick``, or the best where none is picked."""
    pick: str | None = None


class DetailsIn(In):
    """A request for a few candidates in full."""

    job: JobIn
    ids: Annotated[list[str], Field(max_length=4)]
    fineness: FinenessIn = FinenessIn()


class EstimateIn(In):
    """A request for the draw by estimate; ``model`` is the slug of a kept one, whose runs it is held
    against."""

    job: JobIn
    model: Annotated[str, Field(max_length=80)] | None = None
