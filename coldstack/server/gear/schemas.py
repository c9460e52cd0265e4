"""Gear as the API takes and says it. Names and units are the core's; `id` is added to what is stored."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from coldstack.core.cells.counts import MOST_SERIES
from coldstack.core.chain.adapters import Adapter
from coldstack.core.chain.plugs import Half, PlugFamily
from coldstack.core.charging.charger import Charger, Supply, SupplyKind
from coldstack.core.fields.common import NAME, NOTE
from coldstack.core.fields.quantity import Choice, Words, YesNo
from coldstack.core.labels.guesses import Guess
from coldstack.core.labels.reading import LabelReading
from coldstack.core.packs.pack import CellType, Pack
from coldstack.server.api.shapes import asked, asks, shows
from coldstack.server.gear.models import Change
from coldstack.server.sizing.replies import PlanOut
from coldstack.server.sizing.schemas import In, JobIn

Name = Annotated[str, NAME, Field(min_length=1, max_length=80)]
Note = Annotated[str, NOTE, Field(max_length=200)]
TAG = Words(
    "Tag",
    words="no nr number id sticker pack_no pack_nr pack_number nummer numero tag_no label_no",
    hint="as written on the pack; left empty it gets the next number",
    short=True,
)
SHOP = Words("Shop", words="store seller vendor from_shop where", most=60)
OF_ONE = ("id", "owned", "fit", "unknown_past", "today", "learnt", "note", "typical", "offered", "at_hand")
"""What a pack is beside its figures: told of one pack in the box, or by where it comes from."""
PieceKind = Literal["adapter", "lead", "board", "splitter", "balance"]


class ModelLine(BaseModel):
    """A model in the switcher."""

    slug: str
    name: str
    description: str


class ModelOut(ModelLine):
    """A model with its job, and which version of that this is."""

    job: JobIn
    version: str


class ModelPlanOut(BaseModel):
    """What the first look at a model needs; no plan for a job that is kept and cannot be."""

    model: ModelOut
    plan: PlanOut | None


class ModelIn(In):
    """A model: its name, what it is, and its job.

    ``slug`` is its place in addresses, made from the name if it is empty.
    """

    name: Name
    description: Annotated[str, Words("What it is"), Field(max_length=200)] = ""
    slug: Annotated[str, Field(max_length=50, pattern=r"^[a-z0-9-]*$")] = ""
    job: JobIn


@asks(Pack, without=OF_ONE)
class PackFiguresIn(In):
    """A pack by its label. Null where the label says nothing; empty for what is usual; a mass that is
    null is taken as typical.

    ``assumed`` names the fields that nobody gave; left out, those of plug and leads that are left out
    too.
    """

    mass_g: float | None = None
    assumed: Annotated[list[Literal["plug", "lead_awg", "mass_g"]], Field(max_length=4)] | None = None


class CataloguePackIn(PackFiguresIn):
    """A pack that can be bought; ``offer`` if it was pasted from a ``shop``."""

    offer: Annotated[bool, YesNo("On offer now: it goes when it is bought", words="on_offer")] = False
    shop: Annotated[str, SHOP, Field(max_length=60)] = ""


class PackIn(PackFiguresIn):
    """A pack in the box, with the tag that is written on it: the next free number if it is empty.

    ``fit`` is false for a pack that must not be charged or run.
    """

    tag: Annotated[str, TAG, Field(max_length=12)] = ""
    fit: Annotated[bool, asked(Pack, "fit")] = True
    unknown_past: Annotated[bool, asked(Pack, "unknown_past")] = False
    note: Note = ""


@asks(CellType, without=("id",))
class CellTypeIn(In):
    """A cylindrical cell by its data sheet."""


@asks(Charger, without=("id",))
class ChargerIn(In):
    """A charger by its sheet. Watts are those that reach the packs; null for an input it has not. Watts
    that nobody gives are assumed, and ``assumed`` names them."""

    port_w: float | None = None
    assumed: Annotated[list[Literal["port_w", "mains_w"]], Field(max_length=4)] | None = None
    note: Note = ""


@asks(Supply, without=("id",))
class SupplyIn(In):
    """What stands behind a DC charger; ``energy_wh`` is null on the mains."""

    kind: SupplyKind = "mains"


@asks(Adapter, without=("id", "ends", "owned"))
class PieceIn(In):
    """What goes between plugs. Towards the pack it shows one half, towards the device another; a balance
    adapter has no main plugs. A gauge that is null is assumed by its plugs; ``count`` is how many of it there
    are, null where nobody said."""

    kind: Annotated[PieceKind, Choice("Kind", of="piece_kinds")] = "adapter"
    pack_plug: Annotated[str, Choice("Plug towards the pack", of="output_plugs", empty="none")] = ""
    pack_half: Annotated[Half, Choice("It is", of="halves")] = "device"
    device_plug: Annotated[str, Choice("Plug towards the device", of="output_plugs", empty="none")] = ""
    device_half: Annotated[Half, Choice("It is", of="halves")] = "pack"
    awg: float | None = None
    balance_cells: Annotated[int, Field(ge=0, le=MOST_SERIES)] = 0
    assumed: Annotated[list[Literal["awg"]], Field(max_length=2)] | None = None
    sockets: Annotated[int, Field(ge=1, le=32)] = 1
    count: Annotated[int, Field(ge=1, le=99)] | None = None


@asks(PlugFamily, without=("id", "warms_s", "on_packs", "recommended"))
class PlugIn(In):
    """A plug family of one's own. ``code`` is how packs and files name it, made from the name if it is empty.

    ``burst_a`` null: no more than continuous. ``resistance_mohm`` null: as of the table's plugs of such amps.
    """

    code: Annotated[str, Field(max_length=20, pattern=r"^(own_[a-z0-9_]+)?$")] = ""
    burst_a: float | None = None
    resistance_mohm: float | None = None
    note: Note = ""


class ChangeOut(BaseModel):
    """A change that was made and can be undone; ``hands``: this computer's, or a phone's by its name."""

    id: int
    at: datetime
    label: str
    hands: str

    @classmethod
    def of(cls, made: Change) -> ChangeOut:
        """As it was kept."""
        return cls(id=made.pk, at=made.at, label=made.label, hands=made.hands)


class LabelIn(In):
    """A label line, and what helps where it is silent: wires counted, volts measured."""

    line: Annotated[str, Field(max_length=400)]
    balance_wires: int | None = None
    measured_v: float | None = None


@shows(LabelReading)
class LabelOut(BaseModel):
    """A label as read. ``values`` are a pack's fields; ``words`` where each came from; ``guesses`` what to
    check by hand."""

    guesses: dict[str, Guess]


class OffersIn(In):
    """What a shop offers, pasted: a line a pack."""

    text: Annotated[str, Field(max_length=60_000)]


class OfferLine(BaseModel):
    """A line of it: the pack that it makes (null where it cannot be one, and ``lacking`` why), and what
    was read in which words."""

    line: int
    text: str
    pack: CataloguePackIn | None
    lacking: str
    words: dict[str, str]
    told: list[str]
    asked: dict[str, str]
    assumed: list[str]
    unread: str


class OffersTake(In):
    """Offers to put beside what can be bought."""

    packs: Annotated[list[CataloguePackIn], Field(min_length=1, max_length=200)]


class TakenOut(BaseModel):
    """How many of the offers were new; null if none was."""

    added: int
    change: ChangeOut | None


class BuyIn(In):
    """The tag for what was bought; the next free one if it is empty."""

    tag: Annotated[str, Field(max_length=12)] = ""


class BoughtOut(BaseModel):
    """The pack that is owned now."""

    tag: str
    change: ChangeOut


class SeveralIn(In):
    """Several rows of one kind."""

    ids: Annotated[list[Annotated[int, Field(ge=1, le=2**63 - 1)]], Field(min_length=1, max_length=5000)]


class TwinOut(BaseModel):
    """A row to start from, and the fields that a twin does not share."""

    row: dict[str, Any]
    asked: list[str]


class LeadOut(BaseModel):
    """The charge lead that a charger still needs, as a piece to add; null where it needs none."""

    sentence: str
    row: PieceIn | None


class RemovedOut(BaseModel):
    """What removing and undoing answer."""

    change: ChangeOut


class ProblemRow(BaseModel):
    """A row of an import that cannot be taken: where it stands, the field, and why."""

    place: str
    field: str
    message: str


class ImportOut(BaseModel):
    """What an import would do, or did. With problems nothing was stored."""

    rows: int
    added: int
    changed: int
    same: int
    problems: list[ProblemRow]
    problem_count: int
    samples: list[str]
    notes: list[str] = []
    change: ChangeOut | None = None


class ProgressOut(BaseModel):
    """How far a running import is."""

    phase: str
    done: int
    total: int


class LentIn(In):
    """A friend's pack in one line: its tag, and its label ("K3 3S 2200 40C XT60"). Under one ``key`` it is
    taken in once, however often that is sent."""

    line: Annotated[str, Field(min_length=1, max_length=120)]
    key: Annotated[str, Field(min_length=8, max_length=60)] | None = None


class LentOut(BaseModel):
    """The pack as it is in the box now, what was assumed of it, and whether it was here before."""

    tag: str
    change: ChangeOut
    assumed: list[str]
    again: bool
