"""What the logbook is asked and answers. Names and units are the core's."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import AwareDatetime, BaseModel, Field

from coldstack.core.charging.cell_readings import State
from coldstack.core.day.rotation import Stage
from coldstack.core.keeping.health import Level
from coldstack.core.keeping.storage import Doing
from coldstack.core.running.go import Verdict
from coldstack.server.bench.replies import StorageOut
from coldstack.server.sizing.replies import CautionOut, WorkingOut
from coldstack.server.sizing.schemas import In


class LineOut(BaseModel):
    """A pack on the shelf: its state, what to do and by when (hours, negative: overdue), and its worst sign."""

    tag: str
    name: str
    state: State | None
    since: datetime | None
    level: Level
    doing: Doing
    in_h: float | None
    due: str
    sign: str


class GroupOut(BaseModel):
    """Packs with the same thing to do, due soonest first."""

    doing: Doing
    packs: list[LineOut]


class ShelfOut(BaseModel):
    """The shelf."""

    groups: list[GroupOut]
    count: int
    rules: str
    rules_id: str


class EvidenceOut(BaseModel):
    """One sign of a pack's health."""

    id: str
    level: Level
    sentence: str
    working: WorkingOut


class SeriesOut(BaseModel):
    """Values over time, a list for each cell; ``first`` is what they are compared with."""

    at: list[datetime]
    cells: list[list[float]]
    first: float | None


class RetireStepOut(BaseModel):
    """A step of retiring."""

    id: str
    sentence: str
    why: str


class NoteOut(BaseModel):
    """A sentence about a pack."""

    id: int
    at: datetime
    text: str


class NoteIn(In):
    """A sentence about a pack."""

    text: Annotated[str, Field(max_length=300)]


class CheckIn(In):
    """A check of a pack by hand: cells at rest and their resistances as typed, its temperature; what a charge then put in until full."""

    cells: Annotated[str, Field(max_length=200)] = ""
    mohm: Annotated[str, Field(max_length=200)] = ""
    temperature_c: Annotated[float, Field(ge=-40, le=120)] | None = None
    put_in_mah: Annotated[float, Field(gt=0, le=200_000)] | None = None
    balance_min: Annotated[float, Field(ge=0, le=1440)] | None = None


class RetirementIn(In):
    """The steps of retiring that were done."""

    ticked: Annotated[list[Annotated[str, Field(max_length=20)]], Field(max_length=10)]


class RetirementOut(BaseModel):
    """The same, and since when the pack is retired."""

    ticked: list[str]
    retired: datetime | None


class TagOut(BaseModel):
    """What a pack’s printed tag says; ``address`` is what its code holds."""

    tag: str
    name: str
    kind: str
    charging: list[str]
    address: str
    code: str


class ToStorageOut(BaseModel):
    """Ways to storage, and by which cells they were reckoned; empty ``reckoned`` where the cells must be read first."""

    reckoned: str
    state: State | None
    ways: list[StorageOut]
    run_down: str
    target_cell_v: float | None


class PackRunOut(BaseModel):
    """A run of a pack, in a model by its name."""

    at: datetime
    model: str
    minutes: float
    put_back_mah: float | None
    landing_cell_v: float | None
    note: str


class PageOut(BaseModel):
    """All of one pack. ``has_storage``: it keeps best at some charge; ``left_out`` counts resistances that are not like with like."""

    line: LineOut
    chemistry_name: str
    has_storage: bool
    series: int
    capacity_ah: float
    label_c: float | None
    note: str
    cycles: int
    evidence: list[EvidenceOut]
    too_early: list[str]
    honest_c: float | None
    capacity_share: float | None
    forecast: str
    workings: dict[str, WorkingOut]
    resistance: SeriesOut
    capacity: SeriesOut
    honest: SeriesOut
    spread_mv: SeriesOut
    runs: list[PackRunOut]
    run_count: int
    run_minutes: float
    left_out: int
    drain: str
    drain_working: WorkingOut
    retire: list[RetireStepOut]
    ticked: list[str]
    retired: datetime | None
    notes: list[NoteOut]


class RunPackOut(BaseModel):
    """A pack for a run: whether it fits the model, and why not, or its worst sign; minutes from full."""

    tag: str
    name: str
    state: State | None
    level: Level
    fits: bool
    minutes: float | None
    why: str


class GoIn(In):
    """A pack with its cells as typed, in a model today."""

    model: Annotated[str, Field(max_length=60)]
    pack: Annotated[str, Field(max_length=12)]
    cells: Annotated[str, Field(max_length=200)]
    temperature_c: Annotated[float, Field(ge=-40, le=120)] | None = None


class GoReasonOut(BaseModel):
    """One thing that speaks against it."""

    id: str
    verdict: Verdict
    sentence: str


class GoOut(BaseModel):
    """Go or no go, and what to set."""

    verdict: Verdict
    reasons: list[GoReasonOut]
    timer_s: int
    minutes: float
    minutes_low: float
    minutes_high: float
    budget_mah: float
    alarm_cell_v: float
    alarm_v: float
    working: WorkingOut
    budget_working: WorkingOut
    alarm_working: WorkingOut
    cautions: list[CautionOut]


class DayIn(In):
    """A day with so many packs like this one, in this model, beside ``own`` as they lie there, by their tags."""

    model: Annotated[str, Field(max_length=60)]
    pack: Annotated[str, Field(max_length=12)]
    packs: Annotated[int, Field(ge=0, le=60)] = 4
    own: Annotated[list[Annotated[str, Field(max_length=12)]], Field(max_length=60)] = []
    ports: Annotated[int, Field(ge=1, le=16)] = 1
    port_w: float = 50
    run_min: float | None = None
    hours: float = 5
    swap_min: float = 3
    cool_min: float | None = None
    supply_wh: Annotated[float, Field(gt=0, le=100_000)] | None = None


class DaySpanOut(BaseModel):
    """A pack in one stage, minutes from the start."""

    pack: int
    stage: Stage
    start_min: float
    end_min: float


class DayOut(BaseModel):
    """The day as it goes, and what would keep it going."""

    headline: str
    lanes: list[str]
    spans: list[DaySpanOut]
    runs: int
    minutes_an_hour: float
    first_wait_min: float | None
    waited_min: float
    used_wh: float
    uncharged: int
    run_min: float
    charge_min: float
    charge_a: float
    charge_limit: str
    charge_wh: float
    fewest_packs: int | None
    fewest_ports: int | None
    both_packs: int | None
    both_ports: int | None
    both_wh: float | None
    working: WorkingOut


class RunFigures(In):
    """A run in a model; ``key`` makes it safe to send twice. ``at`` is when it ended."""

    key: Annotated[str, Field(min_length=8, max_length=40)]
    model: Annotated[str, Field(max_length=60)]
    at: AwareDatetime
    minutes: Annotated[float, Field(gt=0, le=600)]
    put_back_mah: Annotated[float, Field(gt=0, le=200_000)] | None = None
    landing_cell_v: Annotated[float, Field(ge=0.5, le=4.5)] | None = None
    note: Annotated[str, Field(max_length=200)] = ""


class RunIn(RunFigures):
    """A run to be logged, of the pack with this tag."""

    pack: Annotated[str, Field(max_length=12)]


class RunOut(BaseModel):
    """A logged run."""

    id: int
    key: str
    pack: str
    at: datetime
    minutes: float
    put_back_mah: float | None
    landing_cell_v: float | None
    note: str


class LearnedOut(BaseModel):
    """A model's average draw from its runs. [A]"""

    average_a: float
    spread: float
    count: int
    by_volts: int


class RunsOut(BaseModel):
    """A model's runs, newest first, and what they teach."""

    runs: list[RunOut]
    learned: LearnedOut | None
    now_a: float


class PutBackIn(In):
    """What a charge put back after a run."""

    put_back_mah: Annotated[float, Field(gt=0, le=200_000)]


class LeftIn(In):
    """These packs were left in a state now."""

    packs: Annotated[list[Annotated[str, Field(max_length=12)]], Field(min_length=1, max_length=200)]
    state: State


class LeftOut(BaseModel):
    """The records made, to be undone by, and what to say."""

    records: list[int]
    label: str


class UnleftIn(In):
    """Take these records back."""

    records: Annotated[list[Annotated[int, Field(ge=1, le=2**53)]], Field(min_length=1, max_length=200)]
