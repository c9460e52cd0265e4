"""What the bench answers. Names and units are the core's."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from coldstack.core.boards.parallel import Sharing
from coldstack.core.boards.rush import FirstMinutes
from coldstack.core.charging.inspection import Finding, Outcome
from coldstack.core.charging.programs import StorageProgram
from coldstack.core.charging.steps import BenchStep
from coldstack.core.safety.cautions import Caution
from coldstack.core.scheduling.gently import Cost, Pace
from coldstack.server.api.shapes import shows
from coldstack.server.bench.schemas import BenchIn
from coldstack.server.life.replies import NowOut


class BenchPackOut(NowOut):
    """A pack on the bench as it is now, and the gate before charging; ``problem`` is what cannot be
    understood of what was typed."""

    pack: str
    tag: str
    name: str
    chemistry_name: str
    capacity_ah: float
    spread_v: float | None
    outcome: Outcome
    findings: list[Finding]
    problem: str
    at_room: bool


@shows(Sharing)
class SharingOut(BaseModel):
    """Packs on one board: allowed or why not, amps at the moment of joining (into a pack is positive), for
    how many seconds each passes what it may be charged at, seconds until calm."""

    packs: list[str]
    allowed: bool


class WayOut(BaseModel):
    """One way to charge a batch."""

    charger: str
    charger_name: str
    current_a: float
    charge_c: float
    minutes: int
    low_min: float
    high_min: float
    watts: float
    binding: str
    through: list[str]


class BatchOut(BaseModel):
    """A batch: its packs, its rate and whose it is, its place in the plan in words, its ways or why there are
    none."""

    id: str
    packs: list[str]
    tags: list[str]
    series: int
    chemistry_name: str
    capacity_ah: float
    charge_c: float
    most_a: float
    sentence: str
    usual: bool
    sharing: SharingOut
    ways: list[WayOut]
    place: str
    refusals: list[str]
    after_cooling: bool
    first_minutes: FirstMinutes | None


class ApartOut(BaseModel):
    """Two neighbouring batches of one kind, and why they were not put together."""

    first: str
    second: str
    sharing: SharingOut


class SlotOut(BaseModel):
    """A batch on a port: order from 1, minutes from now, the moments themselves, amps."""

    order: int
    batch: str
    tags: list[str]
    charger: str
    charger_name: str
    port: int
    start_min: int
    end_min: int
    start_at: datetime
    end_at: datetime
    current_a: float
    watts: float
    binding: str
    late_min: int
    put_in_mah: float


class HeldOut(BaseModel):
    """A port that a running charge holds, until about when."""

    label: str
    charger: str
    charger_name: str
    port: int
    end_min: int


class UseOut(BaseModel):
    """Watts over time of a charger or supply: steps (minute, watts), its limit, and watt-hours where they
    run out."""

    id: str
    name: str
    limit_w: float
    minutes: list[int]
    watts: list[float]
    used_wh: float | None
    limit_wh: float | None


class StationOut(BaseModel):
    """A charger, how it is fed, and whether it is linked."""

    charger: str
    name: str
    ports: int
    use: bool
    source: str
    supply: str | None
    inputs: list[str]
    linked: bool


class ChoiceOut(BaseModel):
    """Something to choose."""

    id: str
    name: str


class SchoolOut(BaseModel):
    """How one set of house rules would split the packs."""

    id: str
    name: str
    batches: list[list[str]]


class UndoneOut(BaseModel):
    """A batch that found no place."""

    batch: str
    tags: list[str]
    why: str


class SpanOut(BaseModel):
    """Minutes from now in which somebody is at the bench."""

    start_min: int
    end_min: int


class PaceOut(BaseModel):
    """One way to go about it: soonest or gently, from when to when, what it costs the packs, and how many
    cycles that saves over soonest."""

    pace: Pace
    start_at: datetime | None
    end_at: datetime | None
    cost: Cost
    saves_cycles: float


class BenchPlanOut(BaseModel):
    """The whole bench."""

    headline: str
    laid: list[BenchPackOut]
    batches: list[BatchOut]
    apart: list[ApartOut]
    schools: list[SchoolOut]
    slots: list[SlotOut]
    held: list[HeldOut]
    uses: list[UseOut]
    undone: list[UndoneOut]
    stations: list[StationOut]
    boards: list[ChoiceOut]
    board: str
    supplies: list[ChoiceOut]
    due_min: int | None
    pace: Pace
    costs: list[PaceOut]
    spans: list[SpanOut]
    cautions: list[Caution]
    checker: bool


class BenchOut(BaseModel):
    """The bench as it was kept, and which version of it this is."""

    bench: BenchIn
    version: str


class CurveOut(BaseModel):
    """One simulated charge: minutes, volts a cell (a list for each cell), amps."""

    mode: str
    minutes: list[float]
    cell_v: list[list[float]]
    current_a: list[float]
    highest_v: float
    over_full: list[int]
    sentence: str


class CurvesOut(BaseModel):
    """Plain and balance charging of the same pack."""

    full_v: float
    current_a: float
    plain: CurveOut
    balance: CurveOut


@shows(StorageProgram, without=("target_soc", "target_cell_v", "binding"))
class StorageOut(BaseModel):
    """To storage on each charger, and by running it."""

    charger: str
    charger_name: str
    time_words: str


class StoragesOut(BaseModel):
    """All ways to storage."""

    target_cell_v: float | None
    ways: list[StorageOut]
    run_down: str


class OrderOut(BaseModel):
    """What to set and the steps, for a batch on a charger."""

    chemistry: str
    program: str
    cells: int
    current_a: float
    end_v: float | None
    timer_min: int
    cutoff_mah: int
    minutes: float
    binding: str
    steps: list[BenchStep]
    unplug: list[BenchStep]


class ReadOut(BaseModel):
    """What the checker read."""

    cells: str
    temperature_c: float | None
    read_at: datetime
