"""What sizing answers: plans, details, logs, and the lists to choose from. Names and units are the core's."""

from __future__ import annotations

from pydantic import BaseModel

from coldstack.core.checks import Verdict
from coldstack.server.sizing.schemas import PhaseIn


class StepOut(BaseModel):
    """One line of a derivation."""

    label: str
    formula: str
    numbers: str
    rule: str


class WorkingOut(BaseModel):
    """The derivation behind a number."""

    title: str
    steps: list[StepOut]
    note: str


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
    """A line of the shortlist or of the near misses."""

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
    loading: float
    reason: str
    lacks: list[str]
    fragile: bool
    price: float | None
    catalogue_id: int | None


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
    working: WorkingOut


class ChipOut(BaseModel):
    """A cell count, its volts fresh off the charger, and the peak it means for this model."""

    cells: int
    full_v: float
    accepted: bool
    assumed: bool
    reason: str
    peak_a: float
    peak_ratio: float
    peak_sentence: str


class DutyOut(BaseModel):
    """The duty as it is understood; ``true_for`` says on what: "on 5S LiPo, 740 g all up"."""

    average_a: float
    rms_a: float
    peak_a: float
    cycle_s: float
    true_for: str
    phases: list[PhaseIn]
    working: WorkingOut


class PointedOut(BaseModel):
    """Something to mind about a field of the job, that refuses nothing."""

    field: str
    sentence: str


class PlanOut(BaseModel):
    """A plan. ``able_count`` is what the headline counts: packs one can have that do the job."""

    headline: str
    subline: str
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
    conflict: ConflictOut | None
    shopping: ShoppingOut | None
    chips: list[ChipOut]
    duty: DutyOut
    working: WorkingOut


class CheckOut(BaseModel):
    """A value against its limit."""

    id: str
    title: str
    value: float | None
    limit: float | None
    unit: str
    loading: float | None
    verdict: Verdict
    sentence: str
    limit_source: str
    working: WorkingOut
    assumed: bool = False


class PlateOut(BaseModel):
    """A link of the stack."""

    link: str
    name: str
    continuous: CheckOut
    burst: CheckOut
    leading: CheckOut
    loading: float | None
    weakest: bool
    sentence: str
    assumed: bool = False


class TraceOut(BaseModel):
    """Volts under load and more against minutes."""

    minutes: list[float]
    voltage_v: list[float]
    current_a: list[float]
    temperature_c: list[float]
    landing_min: float | None
    alarm_min: float | None
    stop_min: float | None
    alarm_v: float
    cutoff_v: float | None


class SettingsOut(BaseModel):
    """What to set in the model."""

    timer_s: int
    timer: str
    budget_mah: float
    alarm_cell_v: float
    rest_cell_v: float


class SensitivityOut(BaseModel):
    """What a change would do to the minutes."""

    extra_mass_g: float
    extra_minutes: float
    one_more_cell: float | None
    ten_colder: float
    turning_mass_g: float | None
    sweep_mass_g: list[float]
    sweep_minutes: list[float]


class CautionOut(BaseModel):
    """What to mind."""

    id: str
    sentence: str


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
    position_mm: float | None
    price: float | None
    lacks: list[str]
    checks: list[CheckOut]
    plates: list[PlateOut]
    trace: TraceOut
    settings: SettingsOut
    sensitivity: SensitivityOut
    cautions: list[CautionOut]
    questions: list[str]
    workings: dict[str, WorkingOut]


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
    balance_plugs: list[Choice]
    piece_kinds: list[Choice]
    house_rules: list[Choice]
    label_trusts: list[Choice]
    airflows: list[Choice]
    aims: list[Choice]
    advice: str
