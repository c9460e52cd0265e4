"""What the day ahead is asked and answers. Names and units are the core's; times are local, without a
zone."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from coldstack.core.charging.charger import Input
from coldstack.core.running.tomorrow.flights import MOST_FLIGHTS, MOST_MODELS
from coldstack.core.running.tomorrow.packing import PackingItem
from coldstack.core.safety.cautions import Caution
from coldstack.server.api.moments import LocalMoment
from coldstack.server.bench.schemas import SpanIn
from coldstack.server.sizing.schemas import In

HOURS = 6.0
"""So long a day is where nobody says. House figure."""


class RunsWantedIn(In):
    """So many flights of a model, or so many minutes of running."""

    model: Annotated[str, Field(max_length=60)]
    flights: Annotated[int, Field(ge=1, le=MOST_FLIGHTS)] | None = None
    minutes: Annotated[float, Field(gt=0, le=1440)] | None = None


class ThereIn(In):
    """A charger that comes along, and what feeds it there."""

    charger: Annotated[str, Field(max_length=40)]
    source: Input = "dc"
    supply: Annotated[str, Field(max_length=40)] | None = None


class TomorrowIn(In):
    """What is wanted from an hour on. ``there`` are the chargers along, null the strongest that each battery
    of one's own can feed; ``attended`` when somebody is with the chargers at home before, null as at the
    bench."""

    wishes: Annotated[list[RunsWantedIn], Field(max_length=MOST_MODELS)] = []
    at: LocalMoment | None = None
    start: LocalMoment
    hours: Annotated[float, Field(ge=0.25, le=24)] = HOURS
    there: Annotated[list[ThereIn], Field(max_length=16)] | None = None
    attended: Annotated[list[SpanIn], Field(min_length=1, max_length=4)] | None = None


class DayFlightOut(BaseModel):
    """A flight: by a pack that is ``full``, charged ``before``, or charged ``there``."""

    order: int
    model: str
    tag: str
    start_at: datetime
    end_at: datetime
    minutes: float
    how: Literal["full", "before", "there"]
    care: bool


class DayModelOut(BaseModel):
    """A model in the day: flights wanted in all, flown already, planned, and missing; how many packs may fly
    it, and why not where there are none."""

    model: str
    name: str
    wanted: int
    flown: int
    planned: int
    missing: int
    packs: int
    why: str


class DayChargeOut(BaseModel):
    """A charge, the evening before or there."""

    tag: str
    charger: str
    start_at: datetime
    end_at: datetime
    current_a: float | None
    wh: float | None
    unread: bool = False


class DayPackOut(BaseModel):
    """A pack that the day counts on."""

    tag: str
    name: str
    state: str
    models: list[str]
    how: Literal["full", "before", "there"]
    unread: bool


class DaySupplyOut(BaseModel):
    """What a battery along gives, what it holds when it is full, and what is left in it by what was told, and
    when; null where nobody told. [Wh]"""

    supply: str
    name: str
    used_wh: float
    holds_wh: float | None
    left_wh: float | None
    told: datetime | None
    by_volts: bool


class NotFilledOut(BaseModel):
    """A pack that the evening cannot fill, or that is not counted on, and why."""

    tag: str
    why: str


class AlongChoice(BaseModel):
    """A charger that could come along, and what it could be fed by there."""

    charger: str
    name: str
    ports: int
    along: bool
    source: Input
    supply: str | None
    inputs: list[Input]
    supplies: list[str]


class TomorrowOut(BaseModel):
    """The day: who flies what when, what is charged before and there, what is missing and the ways out, and
    what is packed. ``begun``: nothing is charged before any more."""

    headline: str
    begun: bool
    start: datetime
    end: datetime
    lands_at: datetime | None
    models: list[DayModelOut]
    flights: list[DayFlightOut]
    packs: list[DayPackOut]
    before: list[DayChargeOut]
    there: list[DayChargeOut]
    not_filled: list[NotFilledOut]
    left_out: list[NotFilledOut]
    supplies: list[DaySupplyOut]
    ways_out: list[str]
    packing: list[PackingItem]
    along: list[AlongChoice]
    supply_names: dict[str, str]
    attended: list[SpanIn]
    cautions: list[Caution]


class KeptDay(BaseModel):
    """The day that is kept, if any, its version, and whether it is over."""

    asked: TomorrowIn | None
    version: str
    over: bool
