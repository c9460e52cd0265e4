"""What running is asked and answers. Names and units are the core's."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from coldstack.core.fit.verdict import FitVerdict
from coldstack.core.readings.cells import State
from coldstack.core.running.day.faster import WayOn
from coldstack.core.running.day.rotation import Span
from coldstack.core.running.day.usual import HOURS
from coldstack.core.running.go import Go
from coldstack.core.running.kit import Kit
from coldstack.core.running.learned import RunFindings
from coldstack.core.safety.cautions import Caution
from coldstack.core.working import Working
from coldstack.server.api.moments import Moment
from coldstack.server.api.shapes import shows
from coldstack.server.life.replies import NowOut, PastRun
from coldstack.server.sizing.schemas import In

TWO_TAGS = 25
"""Letters of two tags with the sign between."""


class RunPackNow(NowOut):
    """A pack as it is now."""

    tag: str
    name: str


class RunPackOut(RunPackNow):
    """A pack for a run: its verdict in this model with the worst reason (empty for none), and whether it may
    be run in it at all; why it has to wait now; minutes from full."""

    fit: FitVerdict
    runs: bool
    minutes: float | None
    why: str
    waits: str
    pair: list[str] = []
    """The tags of two that run together in series; empty for one pack."""


class GoIn(In):
    """A pack with its cells as typed, in a model today; without them by what was read last, while that
    holds. "02+03" are two packs in series, with their cells as "4.19 4.18 + 4.19 4.19"."""

    model: Annotated[str, Field(max_length=60)]
    pack: Annotated[str, Field(max_length=TWO_TAGS)]
    cells: Annotated[str, Field(max_length=400)] = ""
    temperature_c: Annotated[float, Field(ge=-40, le=120)] | None = None


@shows(Go)
class GoOut(BaseModel):
    """Go or no go, and what to set; ``fit`` is the verdict of the pack in the model, whatever it reads."""

    alarm_v: float
    cautions: list[Caution]
    cells: list[float]
    pack_v: float | None
    """Of a pack of which only the whole was read."""
    noted: State | None
    """As what it was noted, where nobody read it and that is gone by."""
    pack: RunPackNow


class KitMark(BaseModel):
    """Which kit of a pack holds now: a device that has it need not take it again."""

    tag: str
    fingerprint: str


class KitMarksOut(BaseModel):
    """Those of the packs that fit a model, the readiest first; as of now, and of this version of its job."""

    made: datetime
    job: str
    kits: list[KitMark]


class KitOut(BaseModel):
    """The field kit of a pack in a model: of this hour, and of this version of the model's job."""

    tag: str
    name: str
    fingerprint: str
    made: datetime
    job: str
    kit: Kit


class KitsOut(BaseModel):
    """The field kits of those packs that are in the box."""

    kits: list[KitOut]


class DayIn(In):
    """A day with so many packs like this one, in this model, beside ``own`` as they lie there, by their
    tags. Packs, ports and watts that are null are those of the box and of the charger that fills one
    soonest."""

    model: Annotated[str, Field(max_length=60)]
    pack: Annotated[str, Field(max_length=12)]
    packs: Annotated[int, Field(ge=0, le=60)] | None = None
    own: Annotated[list[Annotated[str, Field(max_length=12)]], Field(max_length=60)] = []
    ports: Annotated[int, Field(ge=1, le=16)] | None = None
    port_w: float | None = None
    run_min: float | None = None
    hours: float = HOURS
    swap_min: float = 3
    cool_min: float | None = None
    supply_wh: Annotated[float, Field(gt=0, le=100_000)] | None = None


class DayOut(BaseModel):
    """The day as it goes, and what would keep it going; packs, ports and watts as they were taken, and the
    charger that has them where nobody said any (empty: none here charges the pack)."""

    packs: int
    ports: int
    port_w: float
    charger: str
    headline: str
    lanes: list[str]
    spans: list[Span]
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
    ways: list[WayOn]
    working: Working


class RunFigures(In):
    """A run in a model; ``key`` makes it safe to send twice. ``at`` is when it ended."""

    key: Annotated[str, Field(min_length=8, max_length=40)]
    model: Annotated[str, Field(max_length=60)]
    at: Moment
    minutes: Annotated[float, Field(gt=0, le=600)]
    put_back_mah: Annotated[float, Field(gt=0, le=200_000)] | None = None
    landing_cell_v: Annotated[float, Field(ge=0.5, le=4.5)] | None = None
    note: Annotated[str, Field(max_length=200)] = ""


class RunIn(RunFigures):
    """A run to be logged, of the pack with this tag or of two in series ("02+03"); ``cells`` as read before
    it, ``landed`` its volts at rest after it as typed: a cell's, each cell's, or the whole pack's; ``signs``
    what was seen of it then, as of a look, and how warm it was. Where ``hour_told``, somebody said when it
    was, and is asked back if that can hardly be, unless ``sure``."""

    pack: Annotated[str, Field(max_length=TWO_TAGS)]
    cells: Annotated[str, Field(max_length=400)] = ""
    landed: Annotated[str, Field(max_length=200)] = ""
    signs: Annotated[list[Annotated[str, Field(max_length=20)]], Field(max_length=10)] = []
    temperature_c: Annotated[float, Field(ge=-40, le=120)] | None = None
    hour_told: bool = False
    sure: bool = False


class RunOut(PastRun):
    """A logged run."""

    id: int
    key: str
    pack: str


class RunsOut(BaseModel):
    """A model's runs, newest first, and what they teach."""

    runs: list[RunOut]
    learned: RunFindings | None
    now_a: float


class RunMendIn(In):
    """What is better known of a run: what a charge put back after it, its minutes, or that it is so as it was
    told, though it was asked back."""

    put_back_mah: Annotated[float, Field(gt=0, le=200_000)] | None = None
    minutes: Annotated[float, Field(gt=0, le=600)] | None = None
    sure: bool = False


class RunMoreIn(In):
    """What is known of a run besides: each is added, or takes the place of what was told. ``landed`` as in
    `RunIn`; ``at`` is another hour of its landing."""

    minutes: Annotated[float, Field(gt=0, le=600)] | None = None
    put_back_mah: Annotated[float, Field(gt=0, le=200_000)] | None = None
    landed: Annotated[str, Field(max_length=200)] = ""
    temperature_c: Annotated[float, Field(ge=-40, le=120)] | None = None
    note: Annotated[str, Field(max_length=200)] = ""
    at: Moment | None = None
    sure: bool = False
