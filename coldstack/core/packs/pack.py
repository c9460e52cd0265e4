"""What a pack is: the figures on its label and what was measured of it."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.chain.plugs import plug_family
from coldstack.core.chain.wire import wire_diameter_mm
from coldstack.core.errors import require_between


@dataclass(frozen=True, slots=True)
class Pack:
    """One pack as sold or owned. A figure that is not known is None.

    ``cell_resistance_mohm`` is the measured quick resistance of one cell position at 25 °C and mid charge. Sizes are in the
    order length, width, height.
    """

    id: str
    name: str
    chemistry: str
    series: int
    capacity_ah: float
    mass_g: float
    parallel: int = 1
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
    owned: bool = False


@dataclass(frozen=True, slots=True)
class CellType:
    """A cylindrical cell by its data sheet, to build S×P packs from."""

    id: str
    name: str
    chemistry: str
    capacity_ah: float
    mass_g: float
    diameter_mm: float
    length_mm: float
    continuous_a: float
    burst_a: float | None = None
    resistance_mohm: float | None = None
    price: float | None = None


def check_pack(pack: Pack) -> Pack:
    """The pack itself, if every figure is possible.

    Raises
    ------
    DomainError
        Naming the field and what would be right.
    """
    chemistry(pack.chemistry)
    plug_family(pack.plug)
    wire_diameter_mm(pack.lead_awg)
    require_between("series", "Cells in series", pack.series, low=1, high=28)
    require_between("parallel", "Strings in parallel", pack.parallel, low=1, high=40)
    require_between("capacity_ah", "Capacity", pack.capacity_ah, low=0.01, high=200, unit="Ah")
    require_between("mass_g", "Mass", pack.mass_g, low=0.5, high=50_000, unit="g")
    optional = (
        ("length_mm", "Length", pack.length_mm, 1, 2000, "mm"),
        ("width_mm", "Width", pack.width_mm, 1, 2000, "mm"),
        ("height_mm", "Height", pack.height_mm, 1, 2000, "mm"),
        ("label_c", "Continuous C", pack.label_c, 0.1, 500, "C"),
        ("label_burst_c", "Burst C", pack.label_burst_c, 0.1, 1000, "C"),
        ("charge_c", "Charge C", pack.charge_c, 0.05, 20, "C"),
        ("cell_resistance_mohm", "Cell resistance", pack.cell_resistance_mohm, 0.05, 2000, "mΩ"),
        ("price", "Price", pack.price, 0, 100_000, ""),
    )
    for field, name, value, low, high, unit in optional:
        if value is not None:
            require_between(field, name, value, low=low, high=high, unit=unit)
    return pack
