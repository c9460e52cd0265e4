"""The job: what the model draws, what its owner wants, and what its electronics and bay can take."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.counts import LEAST_SERIES, MOST_SERIES
from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.chain.plugs import plug_family
from coldstack.core.chain.wire import wire_diameter_mm
from coldstack.core.draw.duty import Duty
from coldstack.core.draw.motion import Motion
from coldstack.core.draw.scaling import Drive
from coldstack.core.errors import DomainError, require_between
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
"""Room to leave on each side for the strap, the leads and a pack that swells a little."""


@dataclass(frozen=True, slots=True)
class Wants:
    """What the owner asks for; None where it does not matter."""

    minutes: float | None = None
    mass_g: float | None = None
    volts: float | None = None
    rpm: float | None = None
    cells: tuple[int, ...] = ()
    chemistries: tuple[str, ...] = ("lipo",)
    lively: float | None = None
    """Full-stick watts at least, as a share of those where the draw is true. Holds with the same
    propeller or gearing."""


@dataclass(frozen=True, slots=True)
class Electronics:
    """The limits of controller and motor. ``rated_cells`` is the LiPo count behind ``max_v``, ``rated_from``
    that behind ``min_v``, where they are stated so.

    Of several controllers or motors each is taken to carry the same share; their ratings are for each,
    or for all together.
    """

    max_v: float
    min_v: float = 0.0
    rated_cells: int | None = None
    rated_from: int | None = None
    controller_continuous_a: float | None = None
    controller_burst_a: float | None = None
    cutoff: Cutoff = "programmable"
    motor_continuous_a: float | None = None
    motor_burst_a: float | None = None
    motor_kv: float | None = None
    brushed: bool = False
    plug: str = "xt60"
    lead_awg: float = 14
    lead_length_mm: float = 100
    controllers: int = 1
    controller_ratings: Ratings = "each"
    motors: int = 1
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

    length_mm: float | None = None
    width_mm: float | None = None
    height_mm: float | None = None
    airflow: Airflow = "vented"
    air_c: float = 20.0
    pack_c: float | None = None
    """The pack's temperature at the start, if it is not the air's. [°C]"""
    balance_at_mm: float | None = None
    empty_balance_mm: float | None = None
    centre_mm: float | None = None


@dataclass(frozen=True, slots=True)
class RunsOn:
    """The pack on which the model runs now, and for which its draw is true. ``pack`` is the id of an
    owned one, if it is one."""

    chemistry: str
    series: int
    capacity_ah: float
    mass_g: float
    label_c: float | None = None
    cell_resistance_mohm: float | None = None
    pack: str = ""
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
        cell_resistance_mohm=_half(one.cell_resistance_mohm)
        if joined == "parallel"
        else one.cell_resistance_mohm,
        mass_g=2 * one.mass_g,
        pack="",
        joined=joined,
    )


def _half(mohm: float | None) -> float | None:
    return None if mohm is None else mohm / 2


@dataclass(frozen=True, slots=True)
class Job:
    """All that sizing needs to know of a model and its owner's wishes."""

    name: str
    motion: Motion
    mass_g: float
    """Ready to run, without the pack. [g]"""
    duty: Duty
    wants: Wants
    electronics: Electronics
    bay: Bay
    rules: HouseRules
    drive: Drive = "same"
    label_trust: LabelTrust = "cautious"
    now: RunsOn | None = None
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
    require_between("mass_g", "Mass without the pack", job.mass_g, low=5, high=200_000, unit="g")
    _check_wants(job.wants)
    _check_electronics(job.electronics)
    _check_bay(job.bay)
    if job.now is not None:
        _check_now(job.now)
    return job


def _check_now(now: RunsOn) -> None:
    chemistry(now.chemistry)
    require_between("now.series", "Cells in series", now.series, low=LEAST_SERIES, high=MOST_SERIES)
    require_between("now.capacity_ah", "Capacity", now.capacity_ah, low=0.01, high=200, unit="Ah")
    require_between("now.mass_g", "Mass of the pack", now.mass_g, low=0.5, high=50_000, unit="g")
    if now.joined == "series" and now.series % 2:
        words = f"Two equal packs in series have an even number of cells, not {now.series}."
        raise DomainError("now.series", words)
    if now.label_c is not None:
        require_between("now.label_c", "Continuous C", now.label_c, low=0.1, high=500, unit="C")
    if now.cell_resistance_mohm is not None:
        require_between(
            "now.cell_resistance_mohm",
            "Cell resistance",
            now.cell_resistance_mohm,
            low=0.01,
            high=2000,
            unit="mΩ",
        )


def _check_wants(wants: Wants) -> None:
    if wants.lively is not None:
        require_between("wants.lively", "Liveliness", wants.lively, low=0.1, high=2)
    for name, label, value, low, high, unit in (
        ("minutes", "Minutes wanted", wants.minutes, 0.1, 600, "min"),
        ("mass_g", "Heaviest pack", wants.mass_g, 1, 100_000, "g"),
        ("volts", "Volts wanted", wants.volts, 0.8, 130, "V"),
        ("rpm", "Speed wanted", wants.rpm, 1, 200_000, "rpm"),
    ):
        if value is not None:
            require_between(f"wants.{name}", label, value, low=low, high=high, unit=unit)
    for cells in wants.cells:
        require_between("wants.cells", "Cells in series", cells, low=LEAST_SERIES, high=MOST_SERIES)
    if not wants.chemistries:
        raise DomainError("wants.chemistries", "Choose at least one chemistry.")
    for chemistry_id in wants.chemistries:
        chemistry(chemistry_id)


def _check_electronics(e: Electronics) -> None:
    where = "electronics"
    require_between(f"{where}.max_v", "Highest volts", e.max_v, low=1, high=130, unit="V")
    require_between(f"{where}.min_v", "Lowest volts", e.min_v, low=0, high=e.max_v, unit="V")
    require_between(f"{where}.controllers", "Number of controllers", e.controllers, low=1, high=16)
    require_between(f"{where}.motors", "Number of motors", e.motors, low=1, high=16)
    for name, label, value, high in (
        ("controller_continuous_a", "Controller, continuous", e.controller_continuous_a, 2000),
        ("controller_burst_a", "Controller, burst", e.controller_burst_a, 4000),
        ("motor_continuous_a", "Motor, continuous", e.motor_continuous_a, 2000),
        ("motor_burst_a", "Motor, burst", e.motor_burst_a, 4000),
    ):
        if value is not None:
            require_between(f"{where}.{name}", label, value, low=0.1, high=high, unit="A")
    if e.motor_kv is not None:
        require_between(f"{where}.motor_kv", "Motor kV", e.motor_kv, low=1, high=50_000, unit="rpm/V")
    plug_family(e.plug)
    wire_diameter_mm(e.lead_awg)
    require_between(f"{where}.lead_length_mm", "Lead length", e.lead_length_mm, low=0, high=5000, unit="mm")


def _check_bay(bay: Bay) -> None:
    for name, label, value in (
        ("length_mm", "Bay length", bay.length_mm),
        ("width_mm", "Bay width", bay.width_mm),
        ("height_mm", "Bay height", bay.height_mm),
    ):
        if value is not None:
            require_between(f"bay.{name}", label, value, low=5, high=3000, unit="mm")
    require_between("bay.air_c", "Air temperature", bay.air_c, low=-30, high=50, unit="°C")
    if bay.pack_c is not None:
        require_between(
            "bay.pack_c", "Pack temperature at the start", bay.pack_c, low=-30, high=60, unit="°C"
        )
    for name in ("balance_at_mm", "empty_balance_mm", "centre_mm"):
        value = getattr(bay, name)
        if value is not None and not math.isfinite(value):
            raise DomainError(f"bay.{name}", "A position must be a number of millimetres.")
