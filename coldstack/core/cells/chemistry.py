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

    Volts are per cell. ``empty_rest_v`` is the resting voltage at the usable end; below ``damage_v`` the cell is harmed.
    ``pack_wh_per_kg`` is the range met in finished packs, from high-current to high-capacity makes.
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
    """Continuous C to assume where the label has none. House figure; for cylindrical cells the data sheet wins."""


CHEMISTRIES: dict[str, Chemistry] = {
    c.id: c
    for c in (
        Chemistry("lipo", "LiPo", 3.70, 4.20, 3.50, 3.00, (3.80, 3.85), "cc_cv", (130, 185), True, 20),
        Chemistry("lihv", "LiHV", 3.80, 4.35, 3.50, 3.00, (3.80, 3.87), "cc_cv", (136.5, 194), True, 20),
        Chemistry("liion", "Li-ion", 3.60, 4.20, 3.10, 2.50, (3.60, 3.80), "cc_cv", (200, 250), False, 3),
        Chemistry("semisolid", "semi-solid", 3.70, 4.20, 3.30, 2.80, (3.75, 3.85), "cc_cv", (230, 300), True, 5),
        Chemistry("lifepo4", "LiFePO4", 3.20, 3.60, 3.00, 2.50, (3.25, 3.30), "cc_cv", (90, 110), False, 10),
        Chemistry("nimh", "NiMH", 1.20, 1.45, 1.05, 0.90, None, "peak", (60, 75), False, 10),
    )
}  # fmt: skip
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
    """One figure of every chemistry, in the order of CHEMISTRY_IDS: index it by a batch's chemistry indices."""
    return np.array([getattr(c, name) for c in CHEMISTRIES.values()], dtype=float)
