"""What the logbook is asked and answers. Names and units are the core's."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from coldstack.core.charging.cell_readings import State
from coldstack.core.keeping.health import Level
from coldstack.core.keeping.storage import Doing
from coldstack.server.sizing.replies import WorkingOut
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


class PageOut(BaseModel):
    """All of one pack. ``left_out`` counts resistances that are not like with like."""

    line: LineOut
    chemistry_name: str
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
    resistance: SeriesOut
    capacity: SeriesOut
    left_out: int
    drain: str
    drain_working: WorkingOut
    retire: list[RetireStepOut]


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

    records: Annotated[list[int], Field(min_length=1, max_length=200)]
