"""The job as it comes in, and the plan as it goes out. Names and units are the core's."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from coldstack.core.cells.chemistry import ChemistryId
from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.checks import Verdict
from coldstack.core.draw.duty import Hold
from coldstack.core.draw.motion import MotionId
from coldstack.core.draw.scaling import Drive
from coldstack.core.sizing.front import Aim
from coldstack.core.sizing.job import Airflow, Cutoff

Source = Literal["typed", "log", "sheet", "estimate", "measured"]


class In(BaseModel):
    """Input: unknown fields are refused, NaN and infinity too."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class PhaseIn(In):
    """A phase of a duty."""

    duration_s: float
    hold: Hold
    current_a: float


class DrawIn(In):
    """What the model draws. With ``phases`` (from a log) they count; else average, peak and how often it comes."""

    source: Source = "typed"
    source_note: Annotated[str, Field(max_length=120)] = ""
    average_a: float
    peak_a: float
    peak_s: float
    peak_every_s: float
    reference_voltage_v: float
    reference_mass_g: float
    spread: float = 0.10
    phases: Annotated[list[PhaseIn], Field(max_length=200)] | None = None


class WantsIn(In):
    """What its owner wants; null where it does not matter."""

    minutes: float | None = None
    mass_g: float | None = None
    volts: float | None = None
    rpm: float | None = None
    cells: Annotated[list[int], Field(max_length=14)] = []
    chemistries: Annotated[list[ChemistryId], Field(max_length=6)] = ["lipo"]


class ElectronicsIn(In):
    """What controller and motor can take."""

    max_v: float
    min_v: float = 0.0
    rated_cells: int | None = None
    controller_continuous_a: float | None = None
    controller_burst_a: float | None = None
    cutoff: Cutoff = "programmable"
    motor_continuous_a: float | None = None
    motor_burst_a: float | None = None
    motor_kv: float | None = None
    brushed: bool = False
    plug: str = "xt60"
    lead_awg: float = 14
    lead_length_mm: float = 100


class BayIn(In):
    """Where the pack sits."""

    length_mm: float | None = None
    width_mm: float | None = None
    height_mm: float | None = None
    airflow: Airflow = "vented"
    air_c: float = 20
    pack_c: float | None = None
    balance_at_mm: float | None = None
    empty_balance_mm: float | None = None
    centre_mm: float | None = None


class JobIn(In):
    """All that sizing needs to know."""

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


class FinenessIn(In):
    """How fine the grid of made-up packs is."""

    capacity_steps: Annotated[int, Field(ge=2, le=120)] = 24
    c_steps: Annotated[int, Field(ge=2, le=60)] = 8


class PlanIn(In):
    """A request for a plan."""

    job: JobIn
    aim: Aim = "all_round"
    fineness: FinenessIn = FinenessIn()


class DetailsIn(In):
    """A request for a few candidates in full."""

    job: JobIn
    ids: Annotated[list[str], Field(max_length=4)]
    fineness: FinenessIn = FinenessIn()


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
    reason: str
    peak_a: float
    peak_ratio: float
    peak_sentence: str


class DutyOut(BaseModel):
    """The duty as it is understood."""

    average_a: float
    rms_a: float
    peak_a: float
    cycle_s: float
    phases: list[PhaseIn]
    working: WorkingOut


class PlanOut(BaseModel):
    """A plan."""

    headline: str
    subline: str
    count: int
    feasible_count: int
    followed_min: float | None
    turning_mass_g: float | None
    best: str | None
    field: FieldOut
    front: list[int]
    shortlist: list[RowOut]
    misses: list[RowOut]
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
    workings: dict[str, WorkingOut]


class LogColumnOut(BaseModel):
    """How a column was recognised."""

    quantity: str
    header: str
    unit: str


class LogOut(BaseModel):
    """What a log tells, before it is used."""

    rows: int
    skipped: int
    delimiter: str
    decimal_comma: bool
    columns: list[LogColumnOut]
    duration_s: float
    average_a: float
    rms_a: float
    peak_a: float
    longest_peak_s: float
    peak_every_s: float | None
    used_mah: float
    mean_voltage_v: float
    spread: float
    phases: list[PhaseIn]
    preview_min: list[float]
    preview_a: list[float]
    preview_v: list[float]
    level_a: list[float]


class Choice(BaseModel):
    """One entry of a list to choose from."""

    id: str
    name: str
    note: str


class ChoicesOut(BaseModel):
    """The lists that fields choose from, and the house rules in words."""

    motions: list[Choice]
    chemistries: list[Choice]
    plugs: list[Choice]
    house_rules: list[Choice]
    label_trusts: list[Choice]
    airflows: list[Choice]
    aims: list[Choice]
    advice: str
