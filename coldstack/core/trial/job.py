"""The job: what the model draws, what its owner wants, and what its electronics and bay can take."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.chain.plugs import plug_family
from coldstack.core.draw.duty import Duty
from coldstack.core.draw.motion import Motion
from coldstack.core.draw.scaling import Drive
from coldstack.core.equipment.equipment import Equipment
from coldstack.core.errors import DomainError, between, faults, refuse
from coldstack.core.fields import common as ask
from coldstack.core.fields.quantity import Choice, Quantity, Words
from coldstack.core.fields.table import Check, bounds
from coldstack.core.propulsion.told import NOT_TOLD, Propulsion, check_propulsion
from coldstack.core.rules.house_rules import HouseRules

Cutoff = Literal["none", "programmable"]
Airflow = Literal["closed", "vented", "stream"]
Ratings = Literal["each", "together"]
Joined = Literal["", "series", "parallel"]

AIRFLOW_W_PER_M2_K: dict[str, float] = {"closed": 6.0, "vented": 12.0, "stream": 25.0}
"""Heat transfer of a closed bay, a vented one, and one in the air stream. Typical. [W/m²K]"""
LEAST_V_PER_CELL = 3.0
"""Volts under load per LiPo cell down to which a controller rated from so many cells works. [V]"""
USUAL_BURST_SHARE = 1.3
"""Of its continuous rating, what a controller or motor carries for ten seconds where nobody gave its burst.
House figure."""
BAY_CLEARANCE_MM = 3.0
"""Room to leave on each side for the strap, the leads and a pack that swells a little. House figure."""


HIGHEST_VOLTS = Quantity("Highest volts", unit="V", low=1, high=130)
MOTOR_KV = Quantity("Motor kV", unit="rpm/V", low=1, high=50_000)
CONTROLLERS = Quantity("Number of controllers", low=1, high=16)


def _bay_side(side: str) -> Quantity:
    return Quantity(f"Bay {side}", unit="mm", low=5, high=3000)


@dataclass(frozen=True, slots=True)
class Wants:
    """What the owner asks for; None where it does not matter."""

    minutes: Annotated[
        float | None, Quantity("Minutes wanted", unit="min", low=0.1, high=600, usual=(2, 60))
    ] = None
    mass_g: Annotated[float | None, Quantity("Heaviest pack", unit="g", low=1, high=100_000)] = None
    volts: Annotated[float | None, Quantity("Volts wanted", unit="V", low=0.8, high=130)] = None
    rpm: Annotated[float | None, Quantity("Speed wanted", unit="rpm", low=1, high=200_000)] = None
    cells: Annotated[tuple[int, ...], ask.SERIES] = ()
    chemistries: Annotated[tuple[str, ...], ask.CHEMISTRIES] = ("lipo",)
    lively: Annotated[float | None, Quantity("Liveliness", low=0.1, high=2)] = None
    """Full-stick watts at least, as a share of those where the draw is true. Holds with the same
    propeller or gearing."""
    runs_a_day: Annotated[int | None, Quantity("Runs on a day", low=1, high=60)] = None
    days_a_month: Annotated[
        float | None, Quantity("Days a month", low=0.1, high=31, step=0.5, hint="on which it is run")
    ] = None
    """How often it is run, where its log does not tell."""


@dataclass(frozen=True, slots=True)
class Electronics:
    """The limits of controller and motor. ``rated_cells`` is the LiPo count behind ``max_v``, ``rated_from``
    that behind ``min_v``, where they are stated so.

    Of several controllers or motors each is taken to carry the same share; their ratings are for each,
    or for all together.
    """

    max_v: Annotated[float, HIGHEST_VOLTS]
    min_v: Annotated[float, Quantity("Lowest volts", unit="V", high=130)] = 0.0
    rated_cells: Annotated[int | None, ask.SERIES] = None
    rated_from: Annotated[int | None, ask.SERIES] = None
    controller_continuous_a: Annotated[
        float | None, Quantity("Controller, continuous", unit="A", low=0.1, high=2000)
    ] = None
    controller_burst_a: Annotated[
        float | None, Quantity("Controller, burst", unit="A", low=0.1, high=4000)
    ] = None
    cutoff: Cutoff = "programmable"
    motor_continuous_a: Annotated[
        float | None, Quantity("Motor, continuous", unit="A", low=0.1, high=2000)
    ] = None
    motor_burst_a: Annotated[float | None, Quantity("Motor, burst", unit="A", low=0.1, high=4000)] = None
    motor_kv: Annotated[float | None, MOTOR_KV] = None
    brushed: bool = False
    plug: Annotated[str, Choice("Plug")] = "xt60"
    lead_awg: Annotated[float, ask.LEADS] = 14
    lead_length_mm: Annotated[float, ask.LEAD_LENGTH] = 100
    controllers: Annotated[int, CONTROLLERS] = 1
    controller_ratings: Ratings = "each"
    motors: Annotated[int, Quantity("Number of motors", low=1, high=16)] = 1
    motor_ratings: Ratings = "each"

    def sharing(self, link: str) -> int:
        """Into how many the pack's current is divided before it meets the rating of a link: of several
        controllers or motors that are rated each; 1 for every other link."""
        if link == "controller" and self.controller_ratings == "each":
            return self.controllers
        return self.motors if link == "motor" and self.motor_ratings == "each" else 1


@dataclass(frozen=True, slots=True)
class Bay:
    """Where the pack sits. Positions are along the model from any one datum; None where balance does not
    matter."""

    length_mm: Annotated[float | None, _bay_side("length")] = None
    width_mm: Annotated[float | None, _bay_side("width")] = None
    height_mm: Annotated[float | None, _bay_side("height")] = None
    airflow: Airflow = "vented"
    air_c: Annotated[float, Quantity("Air temperature", unit="°C", low=-30, high=50)] = 20.0
    pack_c: Annotated[
        float | None, Quantity("Pack temperature at the start", unit="°C", low=-30, high=60)
    ] = None
    """The pack's temperature at the start, if it is not the air's. [°C]"""
    balance_at_mm: float | None = None
    empty_balance_mm: float | None = None
    centre_mm: float | None = None

    @property
    def sides_mm(self) -> tuple[float | None, float | None, float | None]:
        """Length, width and height, None where it was not measured. [mm]"""
        return self.length_mm, self.width_mm, self.height_mm


@dataclass(frozen=True, slots=True)
class RunsOn:
    """The pack on which the model runs now, and for which its draw is true. ``pack`` is the id of an
    owned one, if it is one."""

    chemistry: Annotated[str, ask.CHEMISTRY]
    series: Annotated[int, ask.SERIES]
    capacity_ah: Annotated[float, ask.CAPACITY]
    mass_g: Annotated[float, replace(ask.PACK_MASS, label="Mass of the pack")]
    label_c: Annotated[float | None, ask.LABEL_C] = None
    cell_mohm: Annotated[float | None, replace(ask.CELL_RESISTANCE, low=0.01)] = None
    pack: Annotated[str, Words("Pack", most=60)] = ""
    joined: Joined = ""
    """Two packs in series, or two side by side; all figures are those of both together."""

    @property
    def each(self) -> RunsOn:
        """The one pack, or each of the two."""
        if not self.joined:
            return self
        return replace(
            self,
            series=self.series // 2 if self.joined == "series" else self.series,
            capacity_ah=self.capacity_ah / 2 if self.joined == "parallel" else self.capacity_ah,
            mass_g=self.mass_g / 2,
            joined="",
        )

    @property
    def nominal_v(self) -> float:
        """Printed volts. [V]"""
        return self.series * chemistry(self.chemistry).nominal_v


def two_of(one: RunsOn, joined: Joined) -> RunsOn:
    """Two equal packs in series or side by side, as one; the pack itself where they are not joined."""
    if not joined:
        return one
    return replace(
        one,
        series=2 * one.series if joined == "series" else one.series,
        capacity_ah=2 * one.capacity_ah if joined == "parallel" else one.capacity_ah,
        cell_mohm=_half(one.cell_mohm) if joined == "parallel" else one.cell_mohm,
        mass_g=2 * one.mass_g,
        pack="",
        joined=joined,
    )


def _half(mohm: float | None) -> float | None:
    return None if mohm is None else mohm / 2


@dataclass(frozen=True, slots=True)
class Job:
    """All that sizing needs to know of a model and its owner's wishes."""

    name: Annotated[str, Words("Name")]
    motion: Motion
    mass_g: Annotated[float, ask.MODEL_MASS]
    """Ready to run, without the pack. [g]"""
    duty: Duty
    wants: Wants
    electronics: Electronics
    bay: Bay
    rules: HouseRules
    drive: Drive = "same"
    label_trust: LabelTrust = "cautious"
    now: RunsOn | None = None
    propulsion: Propulsion = NOT_TOLD
    """What drives it, of which its draw can be estimated; nothing else goes by it."""
    equipment: Equipment | None = None
    """What it serves, where that is no model: `equipment.job.as_equipment` made the rest of it."""
    assumed: frozenset[str] = frozenset()
    """Figures that nobody gave, by their field ("electronics.lead_awg"): they ask, and refuse nothing."""

    @property
    def told_at_v(self) -> float:
        """Volts to which the told average belongs, as people name packs: printed ones of what it runs
        on now, else those under load. [V]"""
        return self.duty.reference_voltage_v if self.now is None else self.now.nominal_v

    @property
    def stick_told_at_v(self) -> float:
        """The same for the told peak. [V]"""
        return self.duty.stick_voltage_v if self.now is None else self.now.nominal_v

    @property
    def runs_on_two(self) -> bool:
        """Whether it runs on two packs in series."""
        return self.now is not None and self.now.joined == "series"

    @property
    def used_share(self) -> float:
        """Of the minutes to a pack's landing point, what may be used: all but where equipment keeps a
        reserve."""
        return 1.0 if self.equipment is None else self.equipment.used_share

    @property
    def flies(self) -> bool:
        """Whether what it does hangs on its pack in the air: a model that flies, or what steers one."""
        return self.motion.flies if self.equipment is None else self.equipment.flies

    @property
    def seen_by(self) -> str:
        """What stands at the pack's volts, in a sentence: "controller"."""
        return "controller" if self.equipment is None else self.equipment.seen_by

    def is_assumed(self, field: str) -> bool:
        """Whether nobody gave this figure."""
        return field in self.assumed


def rated_window(cells_from: int | None, cells_to: int | None) -> tuple[float | None, float | None]:
    """Lowest and highest volts of electronics rated in LiPo cells; None where that end is not rated. [V]

    The most cells count at full charge; the fewest down to LEAST_V_PER_CELL under load.
    """
    lowest = None if cells_from is None else cells_from * LEAST_V_PER_CELL
    highest = None if cells_to is None else round(cells_to * chemistry("lipo").full_v, 2)
    return lowest, highest


def check_job(job: Job) -> Job:
    """The job itself, if every figure is possible; the duty checks its own.

    Raises
    ------
    DomainError
        Naming the field as the API knows it.
    """
    checks = [
        *bounds(job),
        *_wants_checks(job.wants, without=("minutes",) if job.equipment is not None else ()),
        *_electronics_checks(job.electronics),
        *bounds(job.bay, "bay."),
        lambda: _check_positions(job.bay),
        lambda: check_propulsion(job.propulsion),
    ]
    if job.now is not None:
        checks += _now_checks(job.now)
    refuse(faults(*checks))
    return job


def _now_checks(now: RunsOn) -> list[Check]:
    def pairs() -> None:
        if now.joined == "series" and now.series % 2:
            words = f"Two equal packs in series have an even number of cells, not {now.series}."
            raise DomainError("now.series", words)

    return [lambda: chemistry(now.chemistry), *bounds(now, "now."), pairs]


def _wants_checks(wants: Wants, *, without: tuple[str, ...]) -> list[Check]:
    def chosen() -> None:
        if not wants.chemistries:
            raise DomainError("wants.chemistries", "Choose at least one chemistry.")
        for chemistry_id in wants.chemistries:
            chemistry(chemistry_id)

    return [*bounds(wants, "wants.", without=without), chosen]


def _electronics_checks(e: Electronics) -> list[Check]:
    # against highest volts that cannot be, which are told for themselves, nothing more is wrong
    highest = e.max_v if HIGHEST_VOLTS.low <= e.max_v <= HIGHEST_VOLTS.high else HIGHEST_VOLTS.high
    return [
        *bounds(e, "electronics."),
        between("electronics.min_v", "Lowest volts", e.min_v, 0, highest, "V"),
        lambda: plug_family(e.plug),
    ]


def _check_positions(bay: Bay) -> None:
    for name in ("balance_at_mm", "empty_balance_mm", "centre_mm"):
        value = getattr(bay, name)
        if value is not None and not math.isfinite(value):
            raise DomainError(f"bay.{name}", "A position must be a number of millimetres.")
