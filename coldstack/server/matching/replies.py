"""What matching answers. Names and units are the core's."""

from __future__ import annotations

from pydantic import BaseModel

from coldstack.core.chain.joints import Joint
from coldstack.core.charging.charger import Input
from coldstack.core.matching.charger_settings import ChargerSettings, PortRow
from coldstack.core.matching.drive import DriveFit
from coldstack.core.matching.grid import GridCell
from coldstack.core.matching.refusals import Refusal
from coldstack.core.packs.pack import Pack
from coldstack.core.safety.cautions import Caution
from coldstack.server.api.shapes import shows

PLUG = ("plug", "lead_awg")
STATE = ("fit", "note")


@shows(Pack, only=("id", "name", "chemistry", "series", "parallel", "capacity_ah", "mass_g", *PLUG, *STATE))
class PackOut(BaseModel):
    """The pack in the middle."""

    kind: str
    chemistry_name: str
    full_v: float
    nominal_v: float
    plug_name: str
    plug_assumed: bool
    balance_name: str
    balance_pins: int | None


@shows(DriveFit, without=("path", "shown", "evaluation"))
class DriveOut(BaseModel):
    """The pack in the model."""

    adapters: list[str]
    position_mm: float | None
    model_plug: str
    model_plug_assumed: bool


class LimitOut(BaseModel):
    """One bound on the amps."""

    id: str
    name: str
    current_a: float
    numbers: str


class ChargerChoice(BaseModel):
    """A charger to choose, with what it would do for this pack."""

    id: str
    name: str
    possible: bool
    short: str
    minutes: float | None


class SupplyChoice(BaseModel):
    """A supply to choose."""

    id: str
    name: str


class ChargeOut(BaseModel):
    """The pack on the charger. Null where there is no charger yet."""

    charger: str
    charger_name: str
    source: Input
    supply: str | None
    ports: int
    ports_in_use: int
    inputs: list[Input]
    possible: bool
    subject: str
    refusals: list[Refusal]
    halves: str
    halves_possible: bool
    joints: list[Joint]
    way: list[str]
    balance: str
    limits: list[LimitOut]
    settings: ChargerSettings | None
    ports_table: list[PortRow]
    cautions: list[Caution]
    questions: list[str]


class MatchOut(BaseModel):
    """One pack between its model and its charger."""

    pack: PackOut
    drive: DriveOut
    charge: ChargeOut | None
    chargers: list[ChargerChoice]
    supplies: list[SupplyChoice]


class GridPack(BaseModel):
    """A row of the grid: a pack, and a cell for each model, then for each charger."""

    id: str
    tag: str
    name: str
    note: str
    fit: bool
    models: list[GridCell]
    chargers: list[GridCell]


class GridHead(BaseModel):
    """A column of the grid."""

    id: str
    name: str


class GridOut(BaseModel):
    """My packs against my models and chargers."""

    models: list[GridHead]
    chargers: list[GridHead]
    packs: list[GridPack]
