"""The chemistries: volts, limits, energy and resistance of one cell, and its words on a label. Typical
values; the maker's sheet wins.

One more is an entry here, its resting volts in ``core/data/ocv.csv`` (or those of a kin), and its typical
packs in ``core/data/typical_packs.csv``.
"""

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
class SlowPart:
    """The slow part of a cell's volts, one RC pair: R1 × capacity at 25 °C and mid charge [mΩ·Ah], its time
    constant.

    It is the ions' way through grains and pores, and does not follow the quick resistance: neither a tab, a
    contact nor age changes it as they change that one. ``grows`` says whether it does so as the cell empties,
    or stays as at mid charge.
    """

    mohm_ah: float
    time_constant_s: float
    grows: bool


@dataclass(frozen=True, slots=True)
class Spreading:
    """What the slow part of a cell grows to while it charges for tens of minutes: its resistance times the
    capacity, low, middle and high over published cells. [mΩ·Ah]

    The ions' way through grains and pores, it does not follow the quick resistance (docs/model.md): tabs,
    contacts and age change that one, and hardly this.
    """

    low: float
    middle: float
    high: float


AS_LIPO = SlowPart(20.0, 30.0, True)
"""By fits to published cells (docs/model.md). NiMH and LiFePO4 with more, for want of any: typical."""
AS_LIION = SlowPart(150.0, 140.0, False)
SPREADS_AS_LIPO = Spreading(24.0, 48.0, 100.0)
"""Of charges of published cells computed by porous-electrode physics (docs/model.md): six of LiPo's kind,
three of high-energy Li-ion, one of LiFePO4. LiHV as LiPo, semi-solid between LiPo and Li-ion, for want of
any: typical. A NiMH charge ends at its peak and does not ask for it."""


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
    words: str
    """How labels name it: a regular expression, read without regard to case. Of two that could take the same
    words the later in the table does."""
    kin: tuple[str, ...] = ()
    """More usual chemistries that a label may name beside this more special one, which stands."""
    printed_v: tuple[float, ...] = ()
    """Nominal volts a cell that makers print. Full-charge volts are recognised apart."""
    printed_if_named_v: tuple[float, ...] = ()
    """Such volts that its name must explain: alone they mean a more usual chemistry."""
    slow: SlowPart = AS_LIPO
    spreading: Spreading = SPREADS_AS_LIPO
    typical_resistance_mohm_ah: float | None = None
    """R·Ah of cells whose label current is set by more than heat, so that the heat rule would overstate R."""
    eases: float = 1.0
    """What its quick resistance under the currents of a run is of what a meter reads with a small one: the
    reactions of high-energy cells go easier the more flows. Of three published ones (docs/model.md)."""
    curve: str = ""
    """Whose resting volts it takes, above its ``damage_v``; empty for its own."""
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
    usual_charge_c: float = 1.0
    """Charge rate where the label is silent: 1C, which everyone agrees is safe; the sheets of high-energy
    cells print half of it as their standard charge. [C]"""
    hottest_charging_c: float = 45.0
    """As warm as a sound cell may get on a charger; the sheets of lithium cells end there. [°C]"""
    ends_warm: bool = False
    """It warms at the end, and that is how its full is found."""
    least_charging_v: float = 2.0
    """No sound cell reads less while it is charged. House figure."""


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
            words=r"\blithium[\s-]*ion[\s-]*polymer\b|\bli[\s-]*ion[\s-]*po(?:ly(?:mer)?)?\b|"
            r"\bli(?:thium)?[\s-]*po(?:l|ly(?:mer)?)?\b|\bpoly(?:mer)?[\s-]*lithium\b",
            printed_v=(3.70,),
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
            words=r"\bli[\s-]*h+v+\b|\b(?:li(?:thium)?[\s-]*po(?:ly(?:mer)?)?[\s-]*)?(?:h+v+|"
            r"vh)(?:[\s-]*li[\s-]*po(?:ly(?:mer)?)?)?\b|\bhigh[\s-]*volt(?:age)?(?:[\s-]*li[\s-]*po)?\b",
            kin=("lipo",),
            printed_v=(3.80, 3.85),
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
            usual_charge_c=0.5,
            pouch=False,
            typical_label_c=3,
            patient=True,
            cylindrical=True,
            words=r"\bli(?:thium)?[\s-]*ion(?:en)?\b(?![\s-]*po(?:ly(?:mer)?)?\b)",
            printed_v=(3.60, 3.65),
            printed_if_named_v=(3.70,),
            slow=AS_LIION,
            eases=0.9,
            spreading=Spreading(160.0, 222.0, 320.0),
            typical_resistance_mohm_ah=90.0,
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
            usual_charge_c=0.5,
            pouch=True,
            typical_label_c=5,
            words=r"\bsemi[\s-]*solid(?:[\s-]*state)?\b|\bsolid[\s-]*state\b",
            kin=("lipo", "liion"),
            printed_if_named_v=(3.70, 3.60, 3.80),
            slow=SlowPart(100.0, 140.0, False),
            eases=0.9,
            spreading=Spreading(95.0, 170.0, 310.0),
            typical_resistance_mohm_ah=60.0,
            curve="liion",
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
            words=r"\bli(?:thium)?[\s-]*(?:ion[\s-]*)?fe(?:[\s-]*po\s*4?)?\b|\blfp\b|"
            r"\blithium[\s-]*iron(?:[\s-]*phosphate)?\b",
            printed_v=(3.20, 3.30),
            slow=SlowPart(78.0, 30.0, True),
            spreading=Spreading(50.0, 99.0, 200.0),
            typical_resistance_mohm_ah=60.0,
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
            hottest_charging_c=50.0,
            ends_warm=True,
            least_charging_v=0.7,
            words=r"\bni[\s-]*mh\b|\bnickel[\s-]*metal[\s-]*hydride\b",
            printed_v=(1.20,),
            slow=SlowPart(32.0, 30.0, True),
            typical_resistance_mohm_ah=25.0,
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
