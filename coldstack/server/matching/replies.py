"""What matching answers. Names and units are the core's."""

from __future__ import annotations

from pydantic import BaseModel

from coldstack.core.charging.charger import Input
from coldstack.core.matching.drive import FitVerdict, FixKind
from coldstack.server.sizing.replies import CautionOut, CheckOut, PlateOut, WorkingOut


class PackOut(BaseModel):
    """The pack in the middle."""

    id: str
    name: str
    kind: str
    chemistry: str
    chemistry_name: str
    series: int
    parallel: int
    capacity_ah: float
    mass_g: float
    full_v: float
    nominal_v: float
    plug: str
    plug_name: str
    plug_assumed: bool
    balance_name: str
    balance_pins: int | None
    lead_awg: float
    fit: bool
    note: str


class JointOut(PlateOut):
    """A link of the chain: a plate with its drop and heat at the RMS current, and its heat at the peak."""

    adapter: bool
    drop_v: float | None
    heat_w: float | None
    peak_heat_w: float | None


class FixOut(BaseModel):
    """A way to make the plugs meet."""

    kind: FixKind
    name: str
    sentence: str
    loading: float
    weakest: bool


class DriveOut(BaseModel):
    """The pack in the model."""

    verdict: FitVerdict
    sentence: str
    plugs: str
    look_alike: bool
    adapters: list[str]
    joints: list[JointOut]
    fixes: list[FixOut]
    checks: list[CheckOut]
    cautions: list[CautionOut]
    polarity: list[str]
    questions: list[str]
    minutes: float
    rms_a: float
    peak_a: float
    position_mm: float | None
    model_plug: str
    model_plug_assumed: bool


class RefusalOut(BaseModel):
    """Why a pack is not charged so."""

    id: str
    short: str
    sentence: str


class LimitOut(BaseModel):
    """One bound on the amps."""

    id: str
    name: str
    current_a: float
    numbers: str


class SlipOut(BaseModel):
    """What to set on the charger."""

    chemistry: str
    program: str
    series: int
    current_a: float
    charge_c: float
    end_cell_v: float | None
    end_v: float | None
    timer_min: int
    cutoff_mah: int
    minutes: float
    minutes_low: float
    minutes_high: float
    binding: str
    line: str
    start_soc: float
    workings: dict[str, WorkingOut]


class PortRowOut(BaseModel):
    """Amps by input and ports in use."""

    feed_name: str
    source: Input
    supply: str
    ports_in_use: int
    current_a: float
    useful: bool
    binding: str


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
    refusals: list[RefusalOut]
    halves: str
    halves_possible: bool
    joints: list[JointOut]
    way: list[str]
    balance: str
    limits: list[LimitOut]
    slip: SlipOut | None
    ports_table: list[PortRowOut]
    cautions: list[CautionOut]
    questions: list[str]


class MatchOut(BaseModel):
    """One pack between its model and its charger."""

    pack: PackOut
    drive: DriveOut
    charge: ChargeOut | None
    chargers: list[ChargerChoice]
    supplies: list[SupplyChoice]


class CellOut(BaseModel):
    """A cell of the grid."""

    verdict: FitVerdict
    short: str
    sentence: str
    minutes: float | None
    current_a: float | None
    loading: float | None


class GridPack(BaseModel):
    """A row of the grid: a pack, and a cell for each model, then for each charger."""

    id: str
    tag: str
    name: str
    note: str
    fit: bool
    models: list[CellOut]
    chargers: list[CellOut]


class GridHead(BaseModel):
    """A column of the grid."""

    id: str
    name: str


class GridOut(BaseModel):
    """My packs against my models and chargers."""

    models: list[GridHead]
    chargers: list[GridHead]
    packs: list[GridPack]
