"""Typical packs and cells: what is sold everywhere, to choose from while one's catalogue has no makers in it.

Which capacities are sold with which C is a table (``core/data/typical_packs.csv``), and so is what they weigh
(`masses`); the box follows from 2.0 g/cm³ and the proportions of a stack of pouches or cells. All of it is
marked typical: a maker's sheet wins.
"""

from __future__ import annotations

import csv
import math
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import replace
from functools import cache, lru_cache
from importlib.resources import files

from coldstack.core.cells.chemistry import Chemistry, chemistry
from coldstack.core.chain.wire import usual_awg
from coldstack.core.discharge.batch import PACK_DENSITY_G_PER_CM3
from coldstack.core.labels.guesses import USUAL_LOAD_C, usual_plug
from coldstack.core.packs.masses import Weighed, pulled, typical_mass_g
from coldstack.core.packs.pack import CellType, Pack

ENOUGH_TO_CHOOSE = 5
"""So many packs of a chemistry and cell count in the catalogue are a choice of one's own: typical ones
then stand aside. House figure."""
LENGTH_OVER_WIDTH = 3.0
"""Proportion of the usual pouch pack; 2.5 to 3.5 are met."""
POUCH_OVER_WIDTH = 0.23
"""Thickness of a pouch over its width; a pack of S cells is S times as thick. House figure."""


@cache
def typical_packs() -> tuple[Pack, ...]:
    """Every typical pack, by chemistry, cells, capacity and C."""
    return tuple(
        _pack(chemistry(kind), int(series), float(mah), float(c), hard=case == "hard")
        for kind, series, capacities, classes, case in _table()
        for mah in capacities.split()
        for c in classes.split()
    )


@lru_cache(maxsize=4)
def as_weighed(known: tuple[Weighed, ...]) -> dict[str, Pack]:
    """Every typical pack by its id, as heavy as the packs that somebody weighed let one expect."""
    if not known:
        return {p.id: p for p in typical_packs()}
    return {p.id: replace(p, mass_g=float(f"{p.mass_g * _pull(known, p):.3g}")) for p in typical_packs()}


def _pull(known: tuple[Weighed, ...], p: Pack) -> float:
    return float(pulled(known, p.chemistry, p.series, p.capacity_ah))


@cache
def typical_cells() -> tuple[CellType, ...]:
    """Typical cylindrical cells by their data sheets."""
    rows = csv.DictReader(_text("typical_cells.csv").splitlines())
    return tuple(
        CellType(
            id=f"typical-{k}",
            name=row["name"],
            chemistry=row["chemistry"],
            **{f: float(row[f]) for f in _CELL_FIGURES},
        )
        for k, row in enumerate(rows)
    )


_CELL_FIGURES = (
    "capacity_ah",
    "mass_g",
    "diameter_mm",
    "length_mm",
    "continuous_a",
    "burst_a",
    "resistance_mohm",
)


def stand_ins(catalogue: Iterable[Pack], known: tuple[Weighed, ...] = ()) -> list[Pack]:
    """Typical packs for those chemistries and cell counts of which the catalogue offers no choice, as heavy
    as ``known`` ones let one expect."""
    offered = Counter((p.chemistry, p.series) for p in catalogue)
    return [p for p in as_weighed(known).values() if offered[p.chemistry, p.series] < ENOUGH_TO_CHOOSE]


@lru_cache(maxsize=512)
def sold_labels_c(chemistry_id: str, capacity_ah: float) -> tuple[float, ...]:
    """What packs of about this capacity are printed with, the lowest first. [1/h]"""
    of_kind = [p for p in typical_packs() if p.chemistry == chemistry_id]
    if not of_kind:
        return (chemistry(chemistry_id).typical_label_c,)
    nearest = min(abs(math.log(p.capacity_ah / capacity_ah)) for p in of_kind)
    near = (p for p in of_kind if abs(math.log(p.capacity_ah / capacity_ah)) <= max(nearest, ABOUT_AS_LARGE))
    return tuple(sorted({p.label_c or 0.0 for p in near}))


ABOUT_AS_LARGE = 0.15
"""In logarithms of the capacity."""


def _pack(cell: Chemistry, series: int, mah: float, c: float, *, hard: bool) -> Pack:
    ah = mah / 1000
    mass_g = float(f"{typical_mass_g(cell.id, series, ah, c, hard=hard):.3g}")
    amps = min(c, USUAL_LOAD_C) * ah
    length, width, height = _box(cell, series, mass_g)
    name = "" if cell.unsaid else f" {cell.name}"
    case, key = (" hard case", ":hard") if hard else ("", "")
    return Pack(
        id=f"typical:{cell.id}:{series}:{mah:.0f}:{c:.0f}{key}",
        name=f"typical {series}S {mah:.0f}{name} {c:.0f}C{case}",
        chemistry=cell.id,
        series=series,
        capacity_ah=ah,
        mass_g=mass_g,
        length_mm=length,
        width_mm=width,
        height_mm=height,
        label_c=c,
        plug=usual_plug(series, ah, amps),
        lead_awg=usual_awg(amps),
        assumed=frozenset(("plug", "lead_awg", "mass_g", "length_mm", "width_mm", "height_mm")),
        typical=True,
    )


def _box(cell: Chemistry, series: int, mass_g: float) -> tuple[float, float, float]:
    """Length, width, height of a usual stack of this mass. [mm]"""
    volume_mm3 = mass_g / PACK_DENSITY_G_PER_CM3 * 1000.0
    # many cells make a pack as thick as it is wide, or two stacks side by side, never a tower
    thick = min(POUCH_OVER_WIDTH * series, 1.2) if cell.pouch else 0.55
    width = (volume_mm3 / (LENGTH_OVER_WIDTH * thick)) ** (1 / 3)
    return tuple(
        float(round(x)) if x >= 10 else round(x, 1) for x in (LENGTH_OVER_WIDTH * width, width, thick * width)
    )  # type: ignore[return-value]  # three by construction


def _table() -> Sequence[tuple[str, str, str, str, str]]:
    lines = [x for x in _text("typical_packs.csv").splitlines() if x and not x.startswith("#")]
    return [tuple(x.split("|")) for x in lines]  # type: ignore[misc]  # five columns each


def _text(name: str) -> str:
    return (files("coldstack.core") / "data" / name).read_text(encoding="utf-8")
