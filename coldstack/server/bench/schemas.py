"""What the bench is asked. Names and units are the core's."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.charging.charger import Input
from coldstack.core.scheduling.gently import Pace
from coldstack.server.api.moments import LocalMoment, Moment
from coldstack.server.sizing.schemas import In

PackId = Annotated[str, Field(max_length=40)]


Clock = Annotated[str, Field(pattern=r"^([01]\d|2[0-3]):[0-5]\d$|^24:00$")]


class BenchPackIn(In):
    """A pack on the bench: its cells as typed ("3.82 3.83 3.79") and its temperature, and when; left out, it
    is now. What was seen and felt, and what others read, is in the pack's life."""

    pack: PackId
    cells: Annotated[str, Field(max_length=200)] = ""
    temperature_c: Annotated[float, Field(ge=-40, le=120)] | None = None
    read_at: Moment | None = None
    source: Annotated[str, Field(max_length=10)] = "typed"


class ChargerInUseIn(In):
    """A charger, whether it is used now, and what it is fed by."""

    charger: Annotated[str, Field(max_length=40)]
    use: bool = True
    source: Input | None = None
    supply: Annotated[str, Field(max_length=40)] | None = None


class SpanIn(In):
    """Hours of the day in which somebody stays at the bench."""

    start: Clock = "07:00"
    end: Clock = "22:00"


class BenchIn(In):
    """The bench as it is laid out. ``groups`` are batches by hand; null lets the program split. Times are
    local, without a zone.

    ``pace`` is how, where there is a ready-by time: gently, as slow and as late as that lets it, or soonest.
    ``board`` is the id of a parallel board, empty for none, null for the one that is owned. Chargers that
    are not listed are used, fed by the best there is.
    """

    laid: Annotated[list[BenchPackIn], Field(max_length=60)] = []
    house_rules: str = "steady"
    label_trust: LabelTrust = "cautious"
    board: Annotated[str, Field(max_length=40)] | None = None
    groups: Annotated[list[Annotated[list[PackId], Field(max_length=60)]], Field(max_length=60)] = []
    feds: Annotated[list[ChargerInUseIn], Field(max_length=40)] = []
    at: LocalMoment | None = None
    ready_by: LocalMoment | None = None
    pace: Pace = "gently"
    attended: Annotated[list[SpanIn], Field(min_length=1, max_length=4)] = [SpanIn()]


class SharingIn(In):
    """May these packs share the board?"""

    bench: BenchIn
    packs: Annotated[list[PackId], Field(min_length=1, max_length=60)]
    balance_first: bool = False


class PackOnChargerIn(In):
    """One laid-out pack on one charger; ``model`` is a model's slug for running it down instead."""

    bench: BenchIn
    pack: PackId
    charger: Annotated[str, Field(max_length=40)] | None = None
    model: Annotated[str, Field(max_length=60)] | None = None


class StartIn(In):
    """Start a batch on a port of a linked charger. ``current_a`` is the plan's share of
    the watts, if it is less than the charger could give; ``steps`` are the ids of the steps ticked; ``key``
    is of the press: pressed twice, it is started once.

    ``simulate`` puts a fault into a simulated charger from the start ("wrong_count").
    """

    bench: BenchIn
    packs: Annotated[list[PackId], Field(min_length=1, max_length=60)]
    charger: Annotated[str, Field(max_length=40)]
    port: Annotated[int, Field(ge=1, le=16)]
    current_a: Annotated[float, Field(gt=0, le=1000)] | None = None
    look_every_min: Annotated[float, Field(ge=0.1, le=120)] = 10
    steps: Annotated[list[str], Field(max_length=20)] = []
    key: Annotated[str, Field(min_length=8, max_length=60)] | None = None
    simulate: Annotated[str, Field(max_length=20)] = ""


class CheckerIn(In):
    """Hold this pack to the cell checker."""

    pack: PackId


class RetireIn(In):
    """Take a pack out of use, and why."""

    pack: PackId
    why: Annotated[str, Field(max_length=100)] = "not to be used"
