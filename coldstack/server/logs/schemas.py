"""Logs as the API says and takes them: what its columns are taken for, and what it tells."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from coldstack.core.draw.found import FoundDraw
from coldstack.core.logs.columns import Quantity
from coldstack.core.packs.pack import LogFindings
from coldstack.core.working import Working
from coldstack.server.api.shapes import asks, shows
from coldstack.server.sizing.schemas import In


class UseIn(In):
    """A column by its place, and what it is taken for, in which unit."""

    index: Annotated[int, Field(ge=0, le=1000)]
    quantity: Quantity
    unit: Annotated[str, Field(max_length=8)]


class ChosenIn(In):
    """What a person says of a log: its columns, the seconds between rows without a time, the cells where
    one cell is metered."""

    uses: Annotated[list[UseIn], Field(max_length=60)]
    step_s: float | None = None
    cells: int | None = None


class ShapeIn(In):
    """A choice to remember for files that look alike."""

    shape: Annotated[str, Field(min_length=1, max_length=500)]
    chosen: ChosenIn


@asks(LogFindings)
class LogFindingsIn(In):
    """What a log taught of a pack; spreads are ± as a share. A figure that it did not tell is null."""


class KeepFindingsIn(In):
    """What to keep of a pack; null to forget what a log taught of it."""

    learnt: LogFindingsIn | None


class LogFitOut(BaseModel):
    """What a log teaches of a pack, beside what was known of it; ``untold`` is what it does not tell, and
    why."""

    tag: str
    name: str
    learnt: LogFindings
    fit_mv: float
    untold: list[str]
    typed_mohm: float | None
    label_ah: float
    before: LogFindings | None
    working: Working


class LogColumnOut(BaseModel):
    """A column of a log: its header, a few cells, and what it is taken for; empty for nothing. ``given``
    is false where its figures, not its words, told."""

    index: int
    header: str
    samples: list[str]
    quantity: Quantity | Literal[""]
    unit: str
    given: bool


@shows(FoundDraw)
class FoundOut(BaseModel):
    """What a log tells."""

    rows: int
    skipped: int
    decimal_comma: bool
    notes: list[str]


class LogOut(BaseModel):
    """A log before it is used: its columns, what is missing (time, volts, amps), and what it tells once
    nothing is.

    ``remembered`` says that the columns are taken as they were chosen for a file that looks alike
    (``shape``).
    """

    rows: int
    delimiter: str
    columns: list[LogColumnOut]
    units: dict[str, list[str]]
    missing: list[str]
    shape: str
    step_s: float | None
    cells: int | None
    remembered: bool
    wrong: str
    found: FoundOut | None
