"""Packs and chargers made up by chance, as a club's shelf has them: of the demo world's makers."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.charging.charger import Charger
from coldstack.core.packs.pack import Pack
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.task import Level, Thing
from coldstack.core.units import plain_number

MAKERS = ("Fellside", "Hollin", "Tarnlight", "Brackwater", "Skarn")
CHARGERS = ("Skerry", "Cairn")
_MAH = (450, 850, 1000, 1300, 1500, 1800, 2200, 2700, 3300, 4000, 5000, 6200, 8000)
_CHEMISTRIES: dict[Level, tuple[str, ...]] = {
    "first_day": ("lipo",),
    "season": ("lipo", "lipo", "lihv", "nimh"),
    "expert": ("lipo", "lihv", "liion", "lifepo4", "nimh"),
}
_SERIES: dict[Level, tuple[int, ...]] = {
    "first_day": (2, 3, 4),
    "season": (1, 2, 3, 4, 5, 6),
    "expert": (1, 2, 3, 4, 5, 6, 7, 8, 10, 12),
}


@dataclass(frozen=True, slots=True)
class MadeUp:
    """A pack, and its label as it is printed."""

    pack: Pack
    label: Thing


def made_up_pack(by: Chance, level: Level, tag: str) -> MadeUp:
    """One pack of a level, with a label that says all that a task needs."""
    kind = by.one_of(_CHEMISTRIES[level])
    cell = chemistry(kind)
    series, mah = by.one_of(_SERIES[level]), by.one_of(_MAH)
    charge_c = by.one_of((None, 1.0, 2.0, 5.0)) if cell.charge_method == "cc_cv" else None
    label_c = by.one_of((20, 25, 30, 35, 50, 75))
    maker = by.one_of(MAKERS)
    pack = Pack(
        id=f"practice:{tag}",
        name=f"{maker} {series}S {mah}",
        chemistry=kind,
        series=series,
        capacity_ah=mah / 1000,
        mass_g=max(5.0, round(series * mah * 0.0235)),
        label_c=float(label_c),
        charge_c=charge_c,
    )
    printed = [
        f"{maker} {cell.name}",
        f"{mah} mAh  {label_c}C",
        f"{plain_number(series * cell.nominal_v)} V",
    ]
    # beginners are shown the count; later on the volts must do
    if level == "first_day":
        printed[2] = f"{series}S  {printed[2]}"
    if charge_c is not None:
        printed.append(f"charge {charge_c:g}C")
    return MadeUp(pack, Thing("label", tag, tuple(printed)))


def made_up_charger(by: Chance, level: Level) -> tuple[Charger, Thing]:
    """One charger on the mains that takes every pack of the level, and its sheet."""
    watts, amps = by.one_of(((50, 5), (80, 6), (150, 10), (300, 15), (600, 20)))
    step = by.one_of((0.1, 0.1, 0.5)) if level != "first_day" else 0.1
    name = f"{by.one_of(CHARGERS)} {watts}"
    charger = Charger(
        id="practice",
        name=name,
        chemistries=("lipo", "lihv", "liion", "lifepo4", "nimh"),
        series_max=12,
        nimh_cells_max=16,
        port_a=float(amps),
        port_w=float(watts),
        mains_w=float(watts),
        step_a=step,
    )
    lines = (f"{watts} W", f"up to {amps} A", f"amps in steps of {step:g} A")
    return charger, Thing("sheet", name, lines)
