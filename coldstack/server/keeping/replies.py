"""What keeping is asked and answers. Names and units are the core's."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from coldstack.core.charging.steps import BenchStep
from coldstack.core.equipment.second_life import BenchUse
from coldstack.core.fit.verdict import FitVerdict
from coldstack.core.keeping.changes import FigureChange
from coldstack.core.keeping.evidence import Evidence
from coldstack.core.keeping.storage import Doing
from coldstack.core.life.events import EventKind
from coldstack.core.life.now import PackState
from coldstack.core.packs.pack import LogFindings
from coldstack.core.readings.cells import State
from coldstack.core.working import Working
from coldstack.server.api.moments import Moment
from coldstack.server.api.shapes import shows
from coldstack.server.bench.replies import StorageOut
from coldstack.server.life.replies import EventOut, NowOut, PastRun
from coldstack.server.sizing.schemas import In

Key = Annotated[str, Field(min_length=8, max_length=60)] | None
"""Made by a page with its form: an act that is sent twice under one key is done once. What waited for a line
says ``at`` when it was; without, it is now."""


class LineOut(NowOut):
    """A pack on the shelf: how it is now and its verdict in words, what to do and by when (hours, negative:
    overdue)."""

    tag: str
    name: str
    verdict: str
    doing: Doing
    in_h: float | None
    due: str
    due_short: str


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


class SeriesOut(BaseModel):
    """Values over time, a list for each cell; ``first`` is what they are compared with."""

    at: list[datetime]
    cells: list[list[float]]
    first: float | None


class NoteOut(BaseModel):
    """A sentence about a pack."""

    id: int
    at: datetime
    text: str
    hands: str


class NoteIn(In):
    """A sentence about a pack."""

    text: Annotated[str, Field(max_length=300)]
    at: Moment | None = None
    key: Key = None


class VisualCheckIn(In):
    """Somebody looked at a pack and felt it: the signs found, none for sound; its temperature, or that it is
    as warm as the room."""

    signs: Annotated[list[Annotated[str, Field(max_length=20)]], Field(max_length=10)] = []
    temperature_c: Annotated[float, Field(ge=-40, le=120)] | None = None
    at_room: bool = False
    at: Moment | None = None
    key: Key = None


class CheckIn(In):
    """A check of a pack by hand: cells at rest and their resistances as typed, its temperature; what a
    charge then put in until full."""

    cells: Annotated[str, Field(max_length=200)] = ""
    mohm: Annotated[str, Field(max_length=200)] = ""
    temperature_c: Annotated[float, Field(ge=-40, le=120)] | None = None
    put_in_mah: Annotated[float, Field(gt=0, le=200_000)] | None = None
    balance_min: Annotated[float, Field(ge=0, le=1440)] | None = None
    at: Moment | None = None
    key: Key = None


class RetirementIn(In):
    """The steps of retiring that were done."""

    ticked: Annotated[list[Annotated[str, Field(max_length=20)]], Field(max_length=10)]
    key: Key = None


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
    """Ways to storage, and by which cells they were reckoned; empty ``reckoned`` where the cells must be
    read first, or where ``why`` says why not at all."""

    reckoned: str
    state: PackState | None
    why: str
    ways: list[StorageOut]
    run_down: str
    target_cell_v: float | None


class PackRunOut(PastRun):
    """A run of a pack, in a model by its name."""

    model: str


@shows(FigureChange, without=("first_day", "since_day"))
class ChangedOut(BaseModel):
    """A figure of a pack at first and now, and since when its sign stands."""

    first_at: datetime
    since: datetime | None


class InModelOut(BaseModel):
    """A pack in one of the models: its verdict there, in words, and minutes from full."""

    slug: str
    name: str
    fit: FitVerdict
    sentence: str
    runs: bool
    minutes: float


class PageOut(BaseModel):
    """All of one pack. ``has_storage``: it keeps best at some charge; ``left_out`` counts resistances that
    are not like with like."""

    line: LineOut
    chemistry_name: str
    has_storage: bool
    series: int
    capacity_ah: float
    label_c: float | None
    lent: bool
    records_wanted: int
    """Of a pack of unknown past: how many charges, runs or checks more until it counts as known; ``past``
    says it in words, empty for any other."""
    past: str
    note: str
    learnt: LogFindings | None
    cycles: int
    evidence: list[Evidence]
    too_early: list[str]
    changes: list[ChangedOut]
    honest_c: float | None
    capacity_share: float | None
    forecast: str
    workings: dict[str, Working]
    resistance: SeriesOut
    capacity: SeriesOut
    honest: SeriesOut
    spread_mv: SeriesOut
    runs: list[PackRunOut]
    run_count: int
    run_minutes: float
    left_out: int
    drain: str
    drain_working: Working
    retire: list[BenchStep]
    ticked: list[str]
    retired: datetime | None
    notes: list[NoteOut]
    life: list[EventOut]
    life_count: int
    models: list[InModelOut]
    bench: list[BenchUse]
    cost: str
    """What it has cost so far; empty without a price."""
    left_full: str


class LeftIn(In):
    """These packs were left in a state now."""

    packs: Annotated[list[Annotated[str, Field(max_length=12)]], Field(min_length=1, max_length=200)]
    state: State
    at: Moment | None = None
    key: Key = None


class ChargedIn(In):
    """These packs were charged full on a charger that nobody links; of one alone perhaps what it put in."""

    packs: Annotated[list[Annotated[str, Field(max_length=12)]], Field(min_length=1, max_length=60)]
    put_in_mah: Annotated[float, Field(gt=0, le=200_000)] | None = None
    at: Moment | None = None
    key: Key = None


class EventsIn(In):
    """These events, to be taken back or brought back."""

    events: Annotated[list[Annotated[int, Field(ge=1, le=2**53)]], Field(min_length=1, max_length=200)]


class FoundPack(BaseModel):
    """A pack whose tag, name or note holds the words."""

    tag: str
    name: str
    note: str


class FoundWords(BaseModel):
    """What was said of a pack, in the words that were looked for."""

    id: int
    tag: str
    at: datetime
    kind: EventKind
    text: str


class SearchOut(BaseModel):
    """Packs and what was said of them."""

    packs: list[FoundPack]
    said: list[FoundWords]
