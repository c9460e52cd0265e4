"""What sizing answers: plans, details, logs, and the lists to choose from. Names and units are the core's."""

from __future__ import annotations

from pydantic import BaseModel

from coldstack.core.describing.narrowing import Narrowing
from coldstack.core.draw.duty import Phase
from coldstack.core.sizing.detail import Detail, Settings
from coldstack.core.sizing.plan import CellChip
from coldstack.core.sizing.why_not import WhyNot
from coldstack.core.trial.now import PointedOut
from coldstack.core.working import Working
from coldstack.server.api.shapes import shows

LABEL = ("id", "name", "kind", "chemistry", "series", "parallel", "mass_g", "price")
RANGE = ("minutes", "minutes_low", "minutes_high", "widest")
FIT = ("fit", "lacks")
COST = ("cost_per_h", "cost_low", "cost_high")


class FieldOut(BaseModel):
    """Every candidate as columns of one length; ``verdict`` is true where all wants and limits are met."""

    ids: list[str]
    names: list[str]
    kinds: list[str]
    series: list[int]
    mass_g: list[float]
    minutes: list[float]
    loading: list[float]
    feasible: list[bool]


@shows(
    Detail,
    only=("id", "name", "kind", "chemistry", "series", "parallel", "mass_g", "price", *COST, *RANGE, *FIT),
)
class RowOut(BaseModel):
    """A line of the shortlist or of the near misses; ``runs_on_it``: the model does, today."""

    capacity_mah: float
    loading: float
    reason: str
    fragile: bool
    catalogue_id: int | None
    runs_on_it: bool
    why_not: list[WhyNot]
    """The next cheaper, lighter and longer one, and what speaks against each; of the first dozen."""


class ReliefOut(BaseModel):
    """What would have to give, and the candidate that then does it."""

    gives: list[str]
    id: str
    sentence: str


class ConflictOut(BaseModel):
    """Why nothing does the job."""

    sentence: str
    reliefs: list[ReliefOut]


class ShoppingOut(BaseModel):
    """What to ask for in a shop."""

    line: str
    working: Working


class DutyOut(BaseModel):
    """The duty as it is understood; ``true_for`` says on what: "on 5S LiPo, 740 g all up"."""

    average_a: float
    rms_a: float
    peak_a: float
    cycle_s: float
    true_for: str
    phases: list[Phase]
    working: Working


@shows(Settings)
class SettingsOut(BaseModel):
    """What to set in the model."""

    timer: str


@shows(Detail)
class DetailOut(BaseModel):
    """One candidate in full."""

    catalogue_id: int | None
    chemistry_name: str
    settings: SettingsOut


class PlanOut(BaseModel):
    """A plan. ``narrow`` is the one figure that would narrow it most. ``able_count`` is what the headline
    counts: packs one can have that do the job. ``picked`` is told where it was asked for."""

    headline: str
    subline: str
    narrow: Narrowing | None
    count: int
    feasible_count: int
    able_count: int
    max_v: float
    min_v: float
    pointed_out: list[PointedOut]
    wanted_min: float | None
    followed_min: float | None
    turning_mass_g: float | None
    best: str | None
    field: FieldOut
    front: list[int]
    shortlist: list[RowOut]
    misses: list[RowOut]
    offers: list[RowOut]
    offers_left_out: int
    coarser: str
    conflict: ConflictOut | None
    shopping: ShoppingOut | None
    chips: list[CellChip]
    duty: DutyOut
    working: Working
    picked: DetailOut | None


class Choice(BaseModel):
    """One entry of a list to choose from."""

    id: str
    name: str
    note: str


class MotionChoice(Choice):
    """A way of moving; ``geared`` says whether other volts mean other gearing, or another propeller."""

    geared: bool


class RegulatorChoice(Choice):
    """A regulator, and what it mostly needs above what it gives. [V]"""

    dropout_v: float


class ChoicesOut(BaseModel):
    """The lists that fields choose from, and the house rules in words."""

    motions: list[MotionChoice]
    chemistries: list[Choice]
    plugs: list[Choice]
    output_plugs: list[Choice]
    signs: list[Choice]
    balance_plugs: list[Choice]
    piece_kinds: list[Choice]
    contact_shapes: list[Choice]
    house_rules: list[Choice]
    label_trusts: list[Choice]
    airflows: list[Choice]
    aims: list[Choice]
    regulators: list[RegulatorChoice]
    advice: str
