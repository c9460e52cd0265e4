"""Candidates as columns: catalogue and owned packs, pairs of them, packs built from cells, and a generic grid."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, fields, replace
from itertools import chain
from typing import Any

import numpy as np
from numpy.typing import NDArray

from coldstack.core.cells.chemistry import CHEMISTRY_IDS, chemistry_column
from coldstack.core.cells.resistance import (
    BURST_FACTOR,
    LabelTrust,
    honest_current_a,
    resistance_from_c_mohm,
    trusted_c,
)
from coldstack.core.chain.own_plugs import index_of_plug, plug_column
from coldstack.core.chain.plugs import plug_family
from coldstack.core.chain.wire import lead_pair_resistance_mohm, wire_continuous_a
from coldstack.core.discharge.batch import Floats, Ints
from coldstack.core.packs.pack import Pack
from coldstack.core.sizing.job import Job

Bools = NDArray[np.bool_]

NEARLY_ALLOWED = 1.05
"""Volts over the controller's limit up to which a pack is still looked at: so an LiHV pack on a controller rated in LiPo
cells is seen and flagged, not just missing."""
MEASURED_SPREAD = (0.25, 0.03)
"""Uncertainty of resistance and capacity of a pack whose resistance was measured: from docs/model.md."""
LABEL_SPREAD = (0.50, 0.06)
"""The same of a pack known by its label only: two packs printed 100C differ by half."""


@dataclass(frozen=True, slots=True)
class Candidates:
    """N candidate packs. Lists and columns have length N; NaN where a figure is not known.

    ``resistance_mohm`` is per cell position at 25 °C and mid charge; ``outside_mohm`` the pack's own leads.
    Currents are the pack's: ``continuous_a`` and ``burst_a`` of its cells, by measurement or trusted label and never
    above the label; ``lead_*`` and ``plug_*`` of its leads and plug, which nobody gave where ``*_assumed``.
    """

    ids: list[str]
    names: list[str]
    kinds: list[str]
    chemistry_index: Ints
    series: Floats
    parallel: Floats
    capacity_ah: Floats
    mass_g: Floats
    length_mm: Floats
    width_mm: Floats
    height_mm: Floats
    resistance_mohm: Floats
    continuous_a: Floats
    burst_a: Floats
    outside_mohm: Floats
    lead_awg: Floats
    lead_continuous_a: Floats
    plug_index: Ints
    plug_continuous_a: Floats
    plug_burst_a: Floats
    resistance_spread: Floats
    capacity_spread: Floats
    price: Floats
    leads_assumed: Bools
    plug_assumed: Bools
    mass_assumed: Bools

    def __len__(self) -> int:
        return len(self.ids)

    @property
    def nominal_v(self) -> Floats:
        """Printed volts of each pack. [V]"""
        return chemistry_column("nominal_v")[self.chemistry_index] * self.series

    @property
    def measured(self) -> NDArray[np.bool_]:
        """Whether the resistance was measured (of cells: is in their data sheet), not taken from the label."""
        return self.resistance_spread <= MEASURED_SPREAD[0]

    def take(self, rows: Sequence[int] | NDArray[np.intp] | NDArray[np.bool_]) -> Candidates:
        """The chosen rows, in the order given."""
        index = np.flatnonzero(rows) if np.asarray(rows).dtype == bool else np.asarray(rows, int)
        columns: dict[str, Any] = {
            f.name: [column[i] for i in index] if isinstance(column, list) else column[index]
            for f in fields(self)
            for column in (getattr(self, f.name),)
        }
        return Candidates(**columns)

    @staticmethod
    def joined(parts: Sequence[Candidates]) -> Candidates:
        """All parts one behind the other."""
        columns: dict[str, Any] = {}
        for f in fields(Candidates):
            pieces = [getattr(p, f.name) for p in parts]
            is_list = f.name in ("ids", "names", "kinds")
            columns[f.name] = list(chain.from_iterable(pieces)) if is_list else np.concatenate(pieces)
        return Candidates(**columns)


ASSUMED_LEAD_MM = 100.0
"""Length of a pack's leads where nobody gave it."""
TYPICAL_RESISTANCE_MOHM_AH = {"liion": 90.0, "lifepo4": 60.0, "semisolid": 60.0, "nimh": 25.0}
"""R·Ah of cells whose label current is set by more than heat, so that the heat rule would overstate R. Typical figures."""


def from_packs(packs: Sequence[Pack], trust: LabelTrust) -> Candidates:
    """Catalogue and owned packs as candidates.

    Continuous current: the honest one of the measured resistance, or the trusted label; never above the label as printed.
    Resistance: measured, or that which makes the trusted C honest; for cells whose label is not set by heat, typical.
    """
    nan = math.nan

    def column(name: str) -> Floats:
        return np.array([nan if (v := getattr(p, name)) is None else v for p in packs], dtype=float)

    index = np.array([CHEMISTRY_IDS.index(p.chemistry) for p in packs], dtype=np.int64)
    ah, label_c, measured = column("capacity_ah"), column("label_c"), column("cell_resistance_mohm")
    printed_c = np.where(np.isnan(label_c), chemistry_column("typical_label_c")[index], label_c)
    resistance, continuous, burst = _currents(
        packs, ah, printed_c, np.isnan(label_c), measured, column("label_burst_c"), trust
    )
    known = ~np.isnan(measured)
    plug_index = np.array([index_of_plug(p.plug) for p in packs], dtype=np.int64)
    awg = column("lead_awg")
    return Candidates(
        ids=[p.id for p in packs],
        names=[p.name for p in packs],
        kinds=[p.kind for p in packs],
        chemistry_index=index,
        series=column("series"),
        parallel=column("parallel"),
        capacity_ah=ah,
        mass_g=column("mass_g"),
        length_mm=column("length_mm"),
        width_mm=column("width_mm"),
        height_mm=column("height_mm"),
        resistance_mohm=resistance,
        continuous_a=continuous,
        burst_a=burst,
        outside_mohm=_lead_resistance(awg, column("lead_length_mm")),
        lead_awg=awg,
        lead_continuous_a=_lead_limit(awg),
        plug_index=plug_index,
        plug_continuous_a=plug_column("continuous_a")[plug_index],
        plug_burst_a=plug_column("burst_a")[plug_index],
        resistance_spread=np.where(known, MEASURED_SPREAD[0], LABEL_SPREAD[0]),
        capacity_spread=np.where(known, MEASURED_SPREAD[1], LABEL_SPREAD[1]),
        price=column("price"),
        leads_assumed=np.array(["lead_awg" in p.assumed for p in packs], dtype=bool),
        plug_assumed=np.array(["plug" in p.assumed for p in packs], dtype=bool),
        # a typical pack is what it is: its mass stands for what is sold
        mass_assumed=np.array(["mass_g" in p.assumed and not p.typical for p in packs], dtype=bool),
    )


def _currents(
    packs: Sequence[Pack],
    ah: Floats,
    printed_c: Floats,
    unlabelled: NDArray[np.bool_],
    measured: Floats,
    burst_c: Floats,
    trust: LabelTrust,
) -> tuple[Floats, Floats, Floats]:
    trusted = trusted_c(printed_c, trust)
    typical = np.array([TYPICAL_RESISTANCE_MOHM_AH.get(p.chemistry, math.nan) for p in packs]) / ah
    from_label = resistance_from_c_mohm(trusted, ah)
    guess = np.where(np.isnan(typical), from_label, np.minimum(typical, from_label))
    resistance = np.where(np.isnan(measured), guess, measured)
    honest = honest_current_a(resistance, ah)
    label_limit = np.where(unlabelled & ~np.isnan(measured), np.inf, printed_c * ah)
    from_label_a = np.minimum(trusted * ah, label_limit)
    continuous = np.where(np.isnan(measured), from_label_a, np.minimum(honest, label_limit))
    share = np.where(np.isnan(measured), trusted / printed_c, 1.0)
    label_burst = burst_c * share * ah
    burst = np.where(
        np.isnan(burst_c),
        BURST_FACTOR * continuous,
        np.minimum(label_burst, np.where(np.isnan(measured), np.inf, 2 * BURST_FACTOR * continuous)),
    )
    return resistance, continuous, np.maximum(burst, continuous)


def _lead_limit(awg: Floats) -> Floats:
    by_gauge = {g: wire_continuous_a(g) for g in set(awg.tolist())}
    return np.array([by_gauge[g] for g in awg.tolist()])


def _lead_resistance(awg: Floats, length_mm: Floats) -> Floats:
    per_mm = {g: lead_pair_resistance_mohm(g, 1.0) for g in set(awg.tolist())}
    return np.array([per_mm[g] for g in awg.tolist()]) * length_mm


def electrically_possible(c: Candidates, *, max_v: float, chemistries: Sequence[str]) -> NDArray[np.bool_]:
    """Candidates worth looking at: of a wanted chemistry, and with no more cells than the volts allow at nominal full charge.

    See NEARLY_ALLOWED.
    """
    full = chemistry_column("full_v")[c.chemistry_index] * c.series
    wanted = np.isin(c.chemistry_index, [CHEMISTRY_IDS.index(x) for x in chemistries])
    return np.asarray(wanted & (full <= NEARLY_ALLOWED * max_v))


def job_candidates(job: Job, packs: Sequence[Pack]) -> Candidates:
    """Packs as candidates for a model; where nobody said what plug or leads they have, those of the
    model are taken."""
    return suited(job, from_packs(packs, job.label_trust))


def suited(job: Job, c: Candidates) -> Candidates:
    """The same with the model's plug and gauge on single packs whose own nobody gave: they would be
    bought with what fits."""
    e = job.electronics
    single = np.array(["pair" not in k for k in c.kinds], dtype=bool)
    plug_row, lead_row = c.plug_assumed & single, c.leads_assumed & single
    if not plug_row.any() and not lead_row.any():
        return c
    family = plug_family(e.plug)
    return replace(
        c,
        plug_index=np.where(plug_row, index_of_plug(family.id), c.plug_index),
        plug_continuous_a=np.where(plug_row, float(family.continuous_a), c.plug_continuous_a),
        plug_burst_a=np.where(plug_row, float(family.burst_a), c.plug_burst_a),
        lead_awg=np.where(lead_row, float(e.lead_awg), c.lead_awg),
        lead_continuous_a=np.where(lead_row, wire_continuous_a(e.lead_awg), c.lead_continuous_a),
        outside_mohm=np.where(
            lead_row, lead_pair_resistance_mohm(e.lead_awg, ASSUMED_LEAD_MM), c.outside_mohm
        ),
    )


def joinable(packs: Sequence[Pack]) -> tuple[list[int], list[Pack]]:
    """Positions of packs of which one can have two, and what each of the two is like.

    A pack on sale can be bought twice. An owned one needs its like in the box: same name and figures;
    the pair is then as heavy as both and as weak as the weaker. Typical packs stand for one pack only.
    """
    rows: list[int] = []
    halves: list[Pack] = []
    waiting: dict[tuple[object, ...], tuple[int, Pack]] = {}
    for row, pack in enumerate(packs):
        if pack.kind in ("catalogue", "on offer"):
            rows.append(row)
            halves.append(pack)
        elif pack.kind == "owned" and pack.fit:
            like = (pack.name, pack.chemistry, pack.series, pack.parallel, pack.capacity_ah)
            other = waiting.pop(like, None)
            if other is None:
                waiting[like] = (row, pack)
            else:
                rows.append(other[0])
                halves.append(_weaker(other[1], pack))
    return rows, halves


def _weaker(one: Pack, other: Pack) -> Pack:
    """A pack that stands for each of two: mean mass and price, the higher resistance, the larger box,
    the lesser ratings."""

    def worst(name: str, pick: Callable[[list[float]], float], *, needs_both: bool = False) -> float | None:
        known = [v for p in (one, other) if (v := getattr(p, name)) is not None]
        return None if not known or (needs_both and len(known) < 2) else pick(known)

    return replace(
        one,
        mass_g=(one.mass_g + other.mass_g) / 2,
        cell_resistance_mohm=worst("cell_resistance_mohm", max, needs_both=True),
        length_mm=worst("length_mm", max, needs_both=True),
        width_mm=worst("width_mm", max, needs_both=True),
        height_mm=worst("height_mm", max, needs_both=True),
        label_c=worst("label_c", min),
        label_burst_c=worst("label_burst_c", min),
    )


def pairs(singles: Candidates) -> Candidates:
    """Two equal packs joined: first all series pairs, then all parallel ones.

    In series the cells add, in parallel the capacities. A harness adds 5 % mass; the plug of each pack carries all the
    current in series and half of it in parallel. The boxes lie on top of each other along their thinner side.
    """
    thin_is_height = singles.height_mm <= singles.width_mm
    common = {
        "mass_g": singles.mass_g * 2.1,
        "width_mm": np.where(thin_is_height, singles.width_mm, 2 * singles.width_mm),
        "height_mm": np.where(thin_is_height, 2 * singles.height_mm, singles.height_mm),
        "price": singles.price * 2,
    }
    each_mohm = singles.outside_mohm + plug_column("resistance_mohm")[singles.plug_index]
    n = len(singles)
    in_series = replace(
        singles,
        ids=[f"series:{i}" for i in singles.ids],
        names=[f"2 × {name} in series" for name in singles.names],
        kinds=["series pair"] * n,
        series=2 * singles.series,
        outside_mohm=2 * each_mohm,
        **common,
    )
    in_parallel = replace(
        singles,
        ids=[f"parallel:{i}" for i in singles.ids],
        names=[f"2 × {name} in parallel" for name in singles.names],
        kinds=["parallel pair"] * n,
        parallel=2 * singles.parallel,
        capacity_ah=2 * singles.capacity_ah,
        resistance_mohm=singles.resistance_mohm / 2,
        continuous_a=2 * singles.continuous_a,
        burst_a=2 * singles.burst_a,
        outside_mohm=each_mohm / 2,
        lead_continuous_a=2 * singles.lead_continuous_a,
        plug_continuous_a=2 * singles.plug_continuous_a,
        plug_burst_a=2 * singles.plug_burst_a,
        **common,
    )
    return Candidates.joined([in_series, in_parallel])
