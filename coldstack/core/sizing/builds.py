"""Candidates that nobody sells as such: S×P packs from cylindrical cells, and generic packs on a grid."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache
from itertools import product
from typing import Any

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRY_IDS, chemistry
from coldstack.core.cells.resistance import (
    BEST_HONEST_C,
    CELL_BURST_FACTOR,
    label_for_c,
    resistance_from_c_mohm,
    slow_mohm,
    slow_time_constant_s,
    typical_cell_mohm,
)
from coldstack.core.chain.own_plugs import depends_on_plugs, index_of_plug
from coldstack.core.chain.plugs import plug_family
from coldstack.core.chain.wire import lead_pair_resistance_mohm, wire_continuous_a
from coldstack.core.discharge.batch import Floats
from coldstack.core.packs.kinds import kind_index
from coldstack.core.packs.masses import pulled, typical_masses_g
from coldstack.core.packs.measured import EXPECTED_SPREAD
from coldstack.core.packs.pack import CellType
from coldstack.core.packs.resistance import expected_slow_mohm
from coldstack.core.readings.tolerance import passes_volts
from coldstack.core.trial.candidates import (
    NEARLY_ALLOWED,
    SHEET_SPREAD,
    Candidates,
    usual_lead_mm,
    weighed_now,
)
from coldstack.core.trial.job import BAY_CLEARANCE_MM, Bay, Electronics, Job
from coldstack.core.trial.unknowns import SLOW_SPREAD

BUILD_MASS_SHARE = 1.06
"""Strips, insulation and wrap over the bare cells: 6 %."""
LEADS_AND_PLUG_G = 18.0
STRIP_MOHM_PER_JOINT = 0.3
"""Nickel strip and welds per cell in series, divided by the strings. Typical."""
MOST_STRINGS = 16
DENSITY_G_PER_CM3 = 2.0
GRID_CAPACITY_RATIO = (0.3, 2.5)
"""The grid spans this much around the closed-form capacity."""
GRID_STEP = 1.15
GRID_C_RATIO, OTHERS_C_RATIO, PRINTED_C_RATIO = (0.4, 2.0), (0.5, 2.0), (0.4, 4.5)
"""Honest C of the grid over the chemistry's typical one: LiPo's up to the best cells met with; other
chemistries'; and LiPo's for those who take labels as printed, as far as these go."""
PRICE_NOT_KNOWN = math.nan


def heaviest_shown_g(job: Job) -> float:
    """Heaviest pack worth a look: 1.65 times the one wanted, or past the mass at which more runs shorter if
    that is near. [g]

    That mass is ``m_model ÷ (n − 1)`` in closed form.
    """
    wanted = job.wants.mass_g or 0.6 * job.mass_g
    n = job.motion.mass_exponent
    turning = 1.6 * job.mass_g / (n - 1) if n > 1 else 0.0
    return turning if 0 < turning <= 4.0 * wanted else 1.65 * wanted


def cell_builds(
    cells: Sequence[CellType], job: Job, *, series: Sequence[int], max_v: float | None = None
) -> Candidates:
    """S×P packs of each cell type, up to `heaviest_shown_g` and MOST_STRINGS strings, and within ``max_v``
    (without it the controller's).

    Mass: cells + 6 % + leads and plug. The box is the stacking of cells that fits the bay best. Current is
    the data sheet's per cell times the strings; resistance the sheet's, or typical for the chemistry.
    """
    # in steps of a quarter, so that a limit being dragged finds its builds made already; the plan cuts off
    # exactly
    limit_g = 1.25 ** math.ceil(math.log(heaviest_shown_g(job), 1.25))
    rows = []
    for cell in cells:
        if cell.chemistry not in job.wants.chemistries:
            continue
        full_v = chemistry(cell.chemistry).full_v
        for s in series:
            if s * full_v > NEARLY_ALLOWED * (max_v or job.electronics.max_v):
                continue
            for p in range(1, MOST_STRINGS + 1):
                if s * p * cell.mass_g * BUILD_MASS_SHARE > limit_g:
                    break
                rows.append((cell, s, p))
    return _built(tuple(rows), job.electronics, job.bay)


@lru_cache(maxsize=32)
def _built(rows: tuple[tuple[CellType, int, int], ...], e: Electronics, bay: Bay) -> Candidates:
    n = len(rows)

    def column(of: str) -> Floats:
        return np.array([math.nan if (v := getattr(r[0], of)) is None else v for r in rows], float)

    s, p = np.array([r[1] for r in rows], float), np.array([r[2] for r in rows], float)
    ah, measured = column("capacity_ah"), column("resistance_mohm")
    typical = np.array([typical_cell_mohm(r[0].chemistry, r[0].capacity_ah) for r in rows])
    known = ~np.isnan(measured)
    cell_r = np.where(known, measured, typical)
    continuous, burst = column("continuous_a"), column("burst_a")
    index = np.array([CHEMISTRY_IDS.index(r[0].chemistry) for r in rows], np.int64)
    box = _best_boxes(s * p, column("diameter_mm"), column("length_mm"), bay)
    return Candidates(
        ids=[f"cells:{c.id}:{a}:{b}" for c, a, b in rows],
        names=[f"{a}S{b}P of {c.name}" for c, a, b in rows],
        kind_index=np.full(n, kind_index("cell build")),
        packs=[None] * n,
        ways=[None] * n,
        chemistry_index=index,
        series=s,
        parallel=p,
        capacity_ah=ah * p,
        mass_g=s * p * column("mass_g") * BUILD_MASS_SHARE + LEADS_AND_PLUG_G,
        length_mm=box[0],
        width_mm=box[1],
        height_mm=box[2],
        cell_mohm=(cell_r + STRIP_MOHM_PER_JOINT) / p,
        continuous_a=continuous * p,
        burst_a=np.where(np.isnan(burst), CELL_BURST_FACTOR * continuous, burst) * p,
        **_made_for(e, ah * p),
        resistance_spread=np.where(known, SHEET_SPREAD[0], EXPECTED_SPREAD[0]),
        capacity_spread=np.full(n, SHEET_SPREAD[1]),
        slow_mohm=slow_mohm(index, ah * p),
        slow_s=np.array([slow_time_constant_s(r[0].chemistry) for r in rows]),
        price=column("price") * s * p,
    )


def _best_boxes(count: Floats, diameter: Floats, length: Floats, bay: Bay) -> tuple[Floats, Floats, Floats]:
    """Length, width and height of the stacking (rows × layers × lengths) that leaves the bay the most room.
    [mm]"""
    room = np.array([[x or 1e6] for x in (bay.length_mm, bay.width_mm, bay.height_mm)])
    best, least = np.zeros((3, len(count))), np.full(len(count), np.inf)
    for layers, lengths, lying in product((1, 2, 3, 4), (1, 2, 3, 4, 5), (True, False)):
        across = np.ceil(count / (layers * lengths))
        # lying cells point along the model; standing ones fill the length with their diameters
        lying_mm = (lengths * length, across * diameter, layers * diameter)
        standing_mm = (across * diameter, lengths * diameter, layers * length)
        size = np.array(lying_mm if lying else standing_mm)
        tightness = np.max(size / room, axis=0)
        best = np.where(tightness < least, size, best)
        least = np.minimum(least, tightness)
    return best[0], best[1], best[2]


def generic_grid(
    job: Job,
    *,
    series: Sequence[int],
    capacity_ah: float,
    capacity_steps: int,
    c_steps: int,
    max_v: float | None = None,
) -> Candidates:
    """Made-up packs on a grid of capacity and C around a capacity, one layer per chemistry and cell count,
    within ``max_v`` (without it the controller's).

    They weigh what such packs usually do. The box has the bay's proportions and 2.0 g/cm³, so that it fits
    if its volume does. They give the shopping line even where the catalogue has no match.
    """
    # the middle moves in steps, so that the marks stand still while a line is dragged and the grid is found
    # made already
    middle_ah = GRID_STEP ** round(math.log(capacity_ah, GRID_STEP))
    layers = tuple(
        (chemistry_id, s)
        for chemistry_id in job.wants.chemistries
        for s in series
        if not chemistry(chemistry_id).cylindrical
        and not passes_volts(s * chemistry(chemistry_id).full_v, max_v or job.electronics.max_v)
    )
    printed = job.label_trust == "as_printed"
    made = _grid(layers, middle_ah, capacity_steps, c_steps, printed, job.electronics, job.bay)
    if (on_scale := weighed_now(job)) is None:
        return made
    known = CHEMISTRY_IDS.index(on_scale.chemistry)
    factor = pulled((on_scale,), on_scale.chemistry, made.series, made.capacity_ah)
    return replace(made, mass_g=np.where(made.chemistry_index == known, made.mass_g * factor, made.mass_g))


@lru_cache(maxsize=16)
def _grid(
    layers: tuple[tuple[str, int], ...],
    middle_ah: float,
    capacity_steps: int,
    c_steps: int,
    printed: bool,
    e: Electronics,
    bay: Bay,
) -> Candidates:
    low, high = GRID_CAPACITY_RATIO
    sizes = np.geomspace(low * middle_ah, high * middle_ah, capacity_steps)
    ratings = {
        x: chemistry(x).typical_label_c * np.geomspace(*_c_ratio(x, printed), c_steps) for x, _ in layers
    }
    parts = [_grid_layer(x, s, sizes, np.round(ratings[x]), e, bay) for x, s in layers]
    return Candidates.joined(parts) if parts else _built((), e, bay)


for _cached in (_built, _grid):
    depends_on_plugs(_cached.cache_clear)


def _c_ratio(chemistry_id: str, printed: bool) -> tuple[float, float]:
    if not chemistry(chemistry_id).polymer:
        return OTHERS_C_RATIO
    return PRINTED_C_RATIO if printed else GRID_C_RATIO


def _grid_layer(
    chemistry_id: str, s: int, sizes: Floats, ratings: Floats, e: Electronics, bay: Bay
) -> Candidates:
    cell = chemistry(chemistry_id)
    sizes = np.array([float(f"{x:.3g}") for x in sizes.tolist()])
    # each word is written once, not once for every pack
    ah_words, mah_words = [f"{x:g}" for x in sizes.tolist()], [f"{1000 * x:.0f}" for x in sizes.tolist()]
    c_words = [f"{x:.0f}" for x in ratings.tolist()]
    ah, c = (x.ravel() for x in np.meshgrid(sizes, ratings, indexing="ij"))
    n = len(ah)
    mass_g = typical_masses_g(chemistry_id, s, ah, label_for_c(np.minimum(c, BEST_HONEST_C), "cautious"))
    mohm = resistance_from_c_mohm(c, ah)
    if cell.typical_resistance_mohm_ah is not None:
        mohm = np.minimum(mohm, cell.typical_resistance_mohm_ah / ah)
    index = np.full(n, CHEMISTRY_IDS.index(chemistry_id), np.int64)
    box = _box_like(bay, mass_g)
    return Candidates(
        ids=[f"grid:{chemistry_id}:{s}:{a}:{b}" for a in ah_words for b in c_words],
        names=[f"any {s}S {cell.name} of {a} mAh, {b}C" for a in mah_words for b in c_words],
        kind_index=np.full(n, kind_index("generic")),
        packs=[None] * n,
        ways=[None] * n,
        chemistry_index=index,
        series=np.full(n, float(s)),
        parallel=np.ones(n),
        capacity_ah=ah,
        mass_g=mass_g,
        length_mm=box[0],
        width_mm=box[1],
        height_mm=box[2],
        cell_mohm=mohm,
        continuous_a=c * ah,
        burst_a=CELL_BURST_FACTOR * c * ah,
        **_made_for(e, ah),
        resistance_spread=np.full(n, EXPECTED_SPREAD[0]),
        capacity_spread=np.full(n, EXPECTED_SPREAD[1]),
        slow_mohm=expected_slow_mohm(index, ah, mohm),
        slow_s=np.full(n, slow_time_constant_s(chemistry_id)),
        price=np.full(n, PRICE_NOT_KNOWN),
    )


def _box_like(bay: Bay, mass_g: Floats) -> list[Floats]:
    """Length, width and height of packs of the bay's proportions. [mm]"""
    side = np.cbrt(mass_g / DENSITY_G_PER_CM3 * 1000.0)
    sides = (bay.length_mm, bay.width_mm, bay.height_mm)
    room = [x - 2 * BAY_CLEARANCE_MM if x else math.nan for x in sides]
    return [side * r / np.cbrt(np.prod(room)) for r in room]


def _made_for(e: Electronics, capacity_ah: Floats) -> dict[str, Any]:
    """What a pack has that is made for these electronics, and new: their plug and gauge, the usual slow
    part."""
    plug, n = plug_family(e.plug), len(capacity_ah)
    return {
        "outside_mohm": lead_pair_resistance_mohm(e.lead_awg, 1.0) * usual_lead_mm(capacity_ah),
        "lead_awg": np.full(n, float(e.lead_awg)),
        "lead_continuous_a": np.full(n, wire_continuous_a(e.lead_awg)),
        "plug_index": np.full(n, index_of_plug(plug.id), np.int64),
        "plug_continuous_a": np.full(n, float(plug.continuous_a)),
        "plug_burst_a": np.full(n, float(plug.burst_a)),
        "ageing": np.zeros(n),
        "slow_spread": np.full(n, SLOW_SPREAD),
        "leads_assumed": np.ones(n, bool),
        "plug_assumed": np.ones(n, bool),
        "mass_assumed": np.zeros(n, bool),
    }
