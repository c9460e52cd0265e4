"""What sizing answers: plans, details, logs, and the lists to choose from. Names and units are the core's."""

from __future__ import annotations

from pydantic import BaseModel

from coldstack.core.checks import Check
from coldstack.core.describing.narrowing import Narrowing
from coldstack.core.draw.duty import Phase
from coldstack.core.fit.fit import Fit
from coldstack.core.safety.cautions import Caution
from coldstack.core.sizing.detail import Moments
from coldstack.core.sizing.plan import CellChip
from coldstack.core.sizing.plates import Plate
from coldstack.core.trial.now import PointedOut
from coldstack.core.trial.spread import Sensitivity
from coldstack.core.working import Working


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


class RowOut(BaseModel):
    """A line of the shortlist or of the near misses; ``runs_on_it``: the model does, today."""

    id: str
    name: str
    kind: str
    chemistry: str
    series: int
    parallel: int
    capacity_mah: float
    mass_g: float
    minutes: float
    minutes_low: float
    minutes_high: float
    widest: str
    loading: float
    reason: str
    lacks: list[str]
    fit: Fit
    fragile: bool
    price: float | None
    catalogue_id: int | None
    runs_on_it: bool


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


class PlanOut(BaseModel):
    """A plan. ``narrow`` is the one figure that would narrow it most. ``able_count`` is what the headline
    counts: packs one can have that do the job."""

    headline: str
    subline: str
    narrow: Narrowing | None
    count: int
    feasible_count: int
    able_count: int
    max_v: float
    min_v: float
    pointed_out: list[PointedOut]
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


class SettingsOut(BaseModel):
    """What to set in the model."""

    timer_s: int
    timer: str
    budget_mah: float
    alarm_cell_v: float
    rest_cell_v: float


class DetailOut(BaseModel):
    """One candidate in full."""

    id: str
    name: str
    kind: str
    catalogue_id: int | None
    chemistry: str
    chemistry_name: str
    series: int
    parallel: int
    capacity_ah: float
    mass_g: float
    full_v: float
    nominal_v: float
    minutes: float
    minutes_low: float
    minutes_high: float
    widest: str
    feasible: bool
    ending: str
    peak_a: float
    rms_a: float
    average_a: float
    end_temperature_c: float
    lowest_v: float
    energy_wh: float
    honest_c: float
    thermal_c: float | None
    resistance_mohm: float
    measured: bool
    learnt_from: str
    position_mm: float | None
    price: float | None
    fit: Fit
    lacks: list[str]
    checks: list[Check]
    plates: list[Plate]
    trace: Moments
    settings: SettingsOut
    sensitivity: Sensitivity
    cautions: list[Caution]
    questions: list[str]
    workings: dict[str, Working]


class Choice(BaseModel):
    """One entry of a list to choose from."""

    id: str
    name: str
    note: str


class MotionChoice(Choice):
    """A way of moving; ``geared`` says whether other volts mean other gearing, or another propeller."""

    geared: bool


class ChoicesOut(BaseModel):
    """The lists that fields choose from, and the house rules in words."""

    motions: list[MotionChoice]
    chemistries: list[Choice]
    plugs: list[Choice]
    output_plugs: list[Choice]
    signs: list[Choice]
    balance_plugs: list[Choice]
    piece_kinds: list[Choice]
    house_rules: list[Choice]
    label_trusts: list[Choice]
    airflows: list[Choice]
    aims: list[Choice]
    advice: str
