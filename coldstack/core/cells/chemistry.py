"""The chemistries: volts, limits and energy of one cell. Typical values; the maker's sheet wins."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from coldstack.core.errors import DomainError

ChemistryId = Literal["lipo", "lihv", "liion", "semisolid", "lifepo4", "nimh"]
ChargeMethod = Literal["cc_cv", "peak"]


@dataclass(frozen=True, slots=True)
class Chemistry:
    """One cell of a chemistry.

    Volts are per cell. ``empty_rest_v`` is the resting voltage at the usable end; below ``damage_v`` the
    cell is harmed. ``pack_wh_per_kg`` is the range met in finished packs, from high-current to
    high-capacity makes.
    """

    id: ChemistryId
    name: str
    nominal_v: float
    full_v: float
    empty_rest_v: float
    damage_v: float
    storage_v: tuple[float, float] | None
    charge_method: ChargeMethod
    pack_wh_per_kg: tuple[float, float]
    pouch: bool
    typical_label_c: float
    """Continuous C to assume where the label has none.

    House figure; for cylindrical cells the data sheet wins.
    """
    polymer: bool = False
    """Sold by high C ratings that heat limits: a rate below 8C on its label is hardly its continuous one."""
    full_on_label: bool = False
    """Its label may print the volts when full in place of the nominal ones."""
    volts_tell: bool = True
    """Resting volts tell its charge; a flat curve's do not."""
    cylindrical: bool = False
    """Its packs are built from cells, and not made in any size."""
    unsaid: bool = False
    """So usual that a pack's name leaves it out."""
    patient: bool = False
    """It may lie full for as many times longer as the house rules say."""
    balanced: bool = True
    """Its cells in series are read and balanced one by one while they charge."""


CHEMISTRIES: dict[str, Chemistry] = {
    c.id: c
    for c in (
        Chemistry(
            "lipo",
            "LiPo",
            nominal_v=3.70,
            full_v=4.20,
            empty_rest_v=3.50,
            damage_v=3.00,
            storage_v=(3.80, 3.85),
            charge_method="cc_cv",
            pack_wh_per_kg=(130, 185),
            pouch=True,
            typical_label_c=20,
            polymer=True,
            unsaid=True,
            full_on_label=True,
        ),
        Chemistry(
            "lihv",
            "LiHV",
            nominal_v=3.80,
            full_v=4.35,
            empty_rest_v=3.50,
            damage_v=3.00,
            storage_v=(3.80, 3.87),
            charge_method="cc_cv",
            pack_wh_per_kg=(136.5, 194),
            pouch=True,
            typical_label_c=20,
            polymer=True,
            full_on_label=True,
        ),
        Chemistry(
            "liion",
            "Li-ion",
            nominal_v=3.60,
            full_v=4.20,
            empty_rest_v=3.10,
            damage_v=2.50,
            storage_v=(3.60, 3.80),
            charge_method="cc_cv",
            pack_wh_per_kg=(200, 250),
            pouch=False,
            typical_label_c=3,
            patient=True,
            cylindrical=True,
        ),
        Chemistry(
            "semisolid",
            "semi-solid",
            nominal_v=3.70,
            full_v=4.20,
            empty_rest_v=3.30,
            damage_v=2.80,
            storage_v=(3.75, 3.85),
            charge_method="cc_cv",
            pack_wh_per_kg=(230, 300),
            pouch=True,
            typical_label_c=5,
        ),
        Chemistry(
            "lifepo4",
            "LiFePO4",
            nominal_v=3.20,
            full_v=3.60,
            empty_rest_v=3.00,
            damage_v=2.50,
            storage_v=(3.25, 3.30),
            charge_method="cc_cv",
            pack_wh_per_kg=(90, 110),
            pouch=False,
            typical_label_c=10,
            full_on_label=True,
            volts_tell=False,
        ),
        Chemistry(
            "nimh",
            "NiMH",
            nominal_v=1.20,
            full_v=1.45,
            empty_rest_v=1.05,
            damage_v=0.90,
            storage_v=None,
            charge_method="peak",
            pack_wh_per_kg=(60, 75),
            pouch=False,
            typical_label_c=10,
            volts_tell=False,
            balanced=False,
        ),
    )
}
CHEMISTRY_IDS: tuple[str, ...] = tuple(CHEMISTRIES)


def chemistry(chemistry_id: str) -> Chemistry:
    """The chemistry with this id.

    Raises
    ------
    DomainError
        For an unknown id.
    """
    try:
        return CHEMISTRIES[chemistry_id]
    except KeyError:
        known = ", ".join(CHEMISTRIES)
        raise DomainError("chemistry", f"Chemistry must be one of {known}, not “{chemistry_id}”.") from None


@cache
def chemistry_column(name: str) -> NDArray[np.float64]:
    """One figure of every chemistry, in the order of CHEMISTRY_IDS: index it by a batch's chemistry
    indices."""
    return np.array([getattr(c, name) for c in CHEMISTRIES.values()], dtype=float)
