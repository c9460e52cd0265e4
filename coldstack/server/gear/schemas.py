"""Gear as the API takes and says it. Names and units are the core's; `id` is added to what is stored."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from coldstack.core.cells.chemistry import ChemistryId
from coldstack.core.cells.counts import MOST_SERIES
from coldstack.core.chain.plugs import Half
from coldstack.core.charging.charger import SupplyKind
from coldstack.core.labels.guesses import Guess
from coldstack.server.sizing.schemas import In, JobIn

Name = Annotated[str, Field(min_length=1, max_length=80)]
Note = Annotated[str, Field(max_length=200)]
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


class ModelIn(In):
    """A model: its name, what it is, and its job.

    ``slug`` is its place in addresses, made from the name if it is empty.
    """

    name: Name
    description: Note = ""
    slug: Annotated[str, Field(max_length=50, pattern=r"^[a-z0-9-]*$")] = ""
    job: JobIn


class PackFiguresIn(In):
    """A pack by its label. Null where the label says nothing; empty for what is usual; a mass that is
    null is taken as typical.

    ``assumed`` names the fields that nobody gave; left out, those of plug and leads that are left out
    too.
    """

    name: Annotated[str, Field(min_length=1, max_length=120)]
    chemistry: ChemistryId
    series: int
    parallel: int = 1
    capacity_ah: float
    mass_g: float | None = None
    length_mm: float | None = None
    width_mm: float | None = None
    height_mm: float | None = None
    label_c: float | None = None
    label_burst_c: float | None = None
    charge_c: float | None = None
    cell_resistance_mohm: float | None = None
    plug: str = "xt60"
    lead_awg: float = 14
    lead_length_mm: float = 100
    price: float | None = None
    plug_half: Half = "pack"
    balance_plug: str = ""
    assumed: Annotated[list[Literal["plug", "lead_awg", "mass_g"]], Field(max_length=4)] | None = None


class CataloguePackIn(PackFiguresIn):
    """A pack that can be bought; ``offer`` if it was pasted from a ``shop``."""

    offer: bool = False
    shop: Annotated[str, Field(max_length=60)] = ""


class PackIn(PackFiguresIn):
    """A pack in the box, with the tag that is written on it: the next free number if it is empty.

    ``fit`` is false for a pack that must not be charged or run.
    """

    tag: Annotated[str, Field(max_length=12)] = ""
    fit: bool = True
    note: Note = ""


class CellTypeIn(In):
    """A cylindrical cell by its data sheet."""

    name: Name
    chemistry: ChemistryId
    capacity_ah: float
    mass_g: float
    diameter_mm: float
    length_mm: float
    continuous_a: float
    burst_a: float | None = None
    resistance_mohm: float | None = None
    price: float | None = None


class ChargerIn(In):
    """A charger by its sheet. Watts are those that reach the packs; null for an input it has not. Watts
    that nobody gives are assumed, and ``assumed`` names them."""

    name: Name
    chemistries: Annotated[list[ChemistryId], Field(max_length=6)]
    series_min: int = 1
    series_max: int
    nimh_cells_max: int = 0
    ports: int = 1
    port_a: float
    port_w: float | None = None
    step_a: float = 0.1
    mains_w: float | None = None
    dc_w: float | None = None
    dc_min_v: float | None = None
    dc_max_v: float | None = None
    balance_families: Annotated[list[str], Field(max_length=5)] = ["xh"]
    balance_a: float = 0.3
    output_plug: str = "banana_4"
    discharge_w: float | None = None
    storage_cap_a: float | None = None
    assumed: Annotated[list[Literal["port_w", "mains_w"]], Field(max_length=4)] | None = None
    note: Note = ""


class SupplyIn(In):
    """What stands behind a DC charger; ``energy_wh`` is null on the mains."""

    name: Name
    kind: SupplyKind = "mains"
    voltage_v: float
    power_w: float
    energy_wh: float | None = None


class PieceIn(In):
    """What goes between plugs. Towards the pack it shows one half, towards the device another; a balance
    adapter has no main plugs. A gauge that is null is assumed by its plugs; ``count`` is how many of it there
    are, null where nobody said."""

    name: Name
    kind: PieceKind = "adapter"
    pack_plug: str = ""
    pack_half: Half = "device"
    device_plug: str = ""
    device_half: Half = "pack"
    awg: float | None = None
    length_mm: float = 60
    continuous_a: float | None = None
    balance_from: Annotated[list[str], Field(max_length=5)] = []
    balance_out: str = ""
    balance_cells: Annotated[int, Field(ge=0, le=MOST_SERIES)] = 0
    assumed: Annotated[list[Literal["awg"]], Field(max_length=2)] | None = None
    sockets: Annotated[int, Field(ge=1, le=32)] = 1
    count: Annotated[int, Field(ge=1, le=99)] | None = None


class PlugIn(In):
    """A plug family of one's own. ``code`` is how packs and files name it, made from the name if it is empty.

    ``burst_a`` null: no more than continuous. ``resistance_mohm`` null: as of the table's plugs of such amps.
    """

    name: Annotated[str, Field(min_length=2, max_length=40)]
    code: Annotated[str, Field(max_length=20, pattern=r"^(own_[a-z0-9_]+)?$")] = ""
    continuous_a: float
    burst_a: float | None = None
    resistance_mohm: float | None = None
    keyed: bool = True
    wired_either_way: bool = False
    alike: bool = False
    spark_guard: bool = False
    mates_with: Annotated[list[str], Field(max_length=40)] = []
    mistaken_for: Annotated[list[str], Field(max_length=40)] = []
    note: Note = ""


class ChangeOut(BaseModel):
    """A change that was made and can be undone."""

    id: int
    label: str


class LabelIn(In):
    """A label line, and what helps where it is silent: wires counted, volts measured."""

    line: Annotated[str, Field(max_length=400)]
    balance_wires: int | None = None
    measured_v: float | None = None


class LabelOut(BaseModel):
    """A label as read. ``values`` are a pack's fields; ``words`` where each came from; ``guesses`` what to
    check by hand."""

    values: dict[str, float | str]
    words: dict[str, str]
    contradictions: list[str]
    filled: list[str]
    missing: list[str]
    asked: dict[str, str]
    guesses: dict[str, Guess]
    unread: str


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
