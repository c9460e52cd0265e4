"""Candidates as columns: catalogue and owned packs, pairs of them, packs built from cells, and a generic
grid."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, fields, replace
from itertools import chain
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from coldstack.core.cells.chemistry import CHEMISTRY_IDS, chemistry_column
from coldstack.core.cells.resistance import (
    CELL_BURST_FACTOR,
    LabelTrust,
    honest_current_a,
    slow_time_constant_s,
    trusted_c,
)
from coldstack.core.chain.adapters import Adapter
from coldstack.core.chain.own_plugs import index_of_plug, plug_column
from coldstack.core.chain.plugs import plug_family
from coldstack.core.chain.wire import lead_pair_resistance_mohm, usual_awg, wire_continuous_a
from coldstack.core.discharge.batch import Floats, Ints
from coldstack.core.labels.guesses import usual_load_a
from coldstack.core.packs.kinds import CandidateKind, kind_at, kind_column, kind_index
from coldstack.core.packs.masses import Weighed, pulled, weighed
from coldstack.core.packs.measured import CHARGED_SPREAD, EXPECTED_SPREAD, METER_SPREAD
from coldstack.core.packs.pack import Pack
from coldstack.core.packs.resistance import cell_resistances, expected_slow_mohm
from coldstack.core.readings.tolerance import passes_volts
from coldstack.core.trial.job import Job
from coldstack.core.trial.now import each_as_told, looks_like
from coldstack.core.trial.unknowns import AGEING, SLOW_SPREAD
from coldstack.core.trial.ways import PlugWay, pack_end_in, way_in

Bools = NDArray[np.bool_]

NEARLY_ALLOWED = 1.05
"""Volts over the controller's limit up to which a pack is still looked at: so an LiHV pack on a
controller rated in LiPo cells is seen and flagged, not just missing."""
SHEET_SPREAD = (METER_SPREAD[""], CHARGED_SPREAD)
"""± of resistance and capacity of cells by their data sheet."""


@dataclass(frozen=True, slots=True)
class Candidates:
    """N candidate packs. Lists and columns have length N; NaN where a figure is not known.

    ``cell_mohm`` is per cell position at 25 °C and mid charge; ``outside_mohm`` the pack's own leads.
    ``packs`` are what they were made of (of a pair, the weaker of the two), None for what is built or made
    up. ``ways`` are how their plugs meet the model's, None while no model was asked, and for what is made to
    fit it. ``ageing`` is the share of its
    capacity that it may have lost since that was known. ``slow_mohm`` is R1 of the slow part at 25 °C and mid
    charge, ``slow_s`` its time constant; known from a log, else usual for such a label, and how far off they
    may be. Currents are the pack's: ``continuous_a`` and ``burst_a`` of its cells, by measurement or trusted
    label and never above the label; ``lead_*`` and ``plug_*`` of its leads and plug, which nobody gave
    where ``*_assumed``.
    """

    ids: list[str]
    names: list[str]
    packs: list[Pack | None]
    ways: list[PlugWay | None]
    kind_index: Ints
    chemistry_index: Ints
    series: Floats
    parallel: Floats
    capacity_ah: Floats
    mass_g: Floats
    length_mm: Floats
    width_mm: Floats
    height_mm: Floats
    cell_mohm: Floats
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
    ageing: Floats
    slow_mohm: Floats
    slow_s: Floats
    slow_spread: Floats
    price: Floats
    leads_assumed: Bools
    plug_assumed: Bools
    mass_assumed: Bools

    def __len__(self) -> int:
        return len(self.ids)

    def kind(self, row: int) -> CandidateKind:
        """What kind of candidate one is."""
        return kind_at(int(self.kind_index[row]))

    def is_kind(self, field: str) -> Bools:
        """Whether something holds of each one's kind, by the field of `CandidateKind`; shape (N,)."""
        return kind_column(field)[self.kind_index] > 0

    def learnt_from(self, row: int) -> str:
        """Name of the log that taught its figures; empty for none."""
        pack = self.packs[row]
        return pack.learnt.source if pack and pack.learnt else ""

    @property
    def cell_ratios(self) -> list[tuple[float, ...]]:
        """Each cell's resistance over the pack's middle one; empty where nobody read them."""
        return [p.today.cell_ratios if p is not None and p.today is not None else () for p in self.packs]

    @property
    def nominal_v(self) -> Floats:
        """Printed volts of each pack. [V]"""
        return chemistry_column("nominal_v")[self.chemistry_index] * self.series

    @property
    def measured(self) -> NDArray[np.bool_]:
        """Whether the resistance was measured (of cells: is in their data sheet), not taken from the
        label."""
        return self.resistance_spread < EXPECTED_SPREAD[0]

    def take(self, rows: Sequence[int] | NDArray[np.intp] | NDArray[np.bool_]) -> Candidates:
        """The chosen rows, in the order given."""
        index = np.flatnonzero(rows) if np.asarray(rows).dtype == bool else np.asarray(rows, int)
        at = index.tolist()  # plain numbers pick from a list three times as fast
        columns: dict[str, Any] = {
            f.name: list(map(column.__getitem__, at)) if isinstance(column, list) else column[index]
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
            is_list = isinstance(pieces[0], list)
            columns[f.name] = list(chain.from_iterable(pieces)) if is_list else np.concatenate(pieces)
        return Candidates(**columns)


ASSUMED_LEAD_MM = 100.0
"""Length of a pack's leads where nobody gave it."""
SHORT_LEADS = ((0.5, 30.0), (1.0, 60.0))
"""Capacities below which leads are shorter, of pack and model. House figures. [Ah], [mm]"""


def usual_lead_mm(capacity_ah: ArrayLike) -> Floats:
    """Length of the leads of packs of these capacities where nobody gave it. [mm]"""
    ah = np.asarray(capacity_ah, float)
    out = np.full(ah.shape, ASSUMED_LEAD_MM)
    for below_ah, mm in reversed(SHORT_LEADS):
        out = np.where(ah < below_ah, mm, out)
    return out


def from_packs(packs: Sequence[Pack], trust: LabelTrust) -> Candidates:
    """Catalogue and owned packs as candidates.

    Resistance: what label, size and chemistry let one expect (that which makes the trusted C honest; for
    cells whose label is not set by heat, typical), joined with what was measured. Continuous current: the
    trusted label's, or the honest one of a measured resistance; never above the label as printed, nor above
    what is usual where none is: a reading does not tell what separators, tabs and sheets allow. The slow part
    goes by what one may expect alone, or by a log: what is read in a second tells nothing of it. What a model
    runs on resists no more in any part than its running shows.
    """
    columns = _Columns(packs)
    column = columns.figure
    index, kinds = columns.indices
    ah, label_c = column("capacity_ah"), column("label_c")
    printed_c = np.where(np.isnan(label_c), chemistry_column("typical_label_c")[index], label_c)
    resistance, unsure, expected = cell_resistances(packs, trust)
    known = np.array([p.measured_resistance is not None for p in packs], dtype=bool)
    continuous, burst = _currents(resistance, known, ah, printed_c, column("label_burst_c"), trust)
    awg = column("lead_awg")
    return Candidates(
        ids=[p.id for p in packs],
        names=[p.name for p in packs],
        kind_index=kinds,
        packs=list(packs),
        ways=[None] * len(packs),
        chemistry_index=index,
        series=column("series"),
        parallel=column("parallel"),
        capacity_ah=column("held_ah"),
        mass_g=column("mass_g"),
        **_sizes(columns),
        cell_mohm=resistance,
        continuous_a=continuous,
        burst_a=burst,
        outside_mohm=_lead_resistance(awg, column("lead_length_mm")),
        lead_awg=awg,
        lead_continuous_a=_lead_limit(awg),
        **_plugs(packs),
        resistance_spread=unsure,
        capacity_spread=_capacity_spread(packs),
        **_slow_part(columns, resistance, expected),
        ageing=np.array([_ageing(p) for p in packs], dtype=float),
        price=column("price"),
        **_assumed(packs),
    )


def _plugs(packs: Sequence[Pack]) -> dict[str, Any]:
    index = np.array([index_of_plug(p.plug) for p in packs], dtype=np.int64)
    amps = {f"plug_{name}": plug_column(name)[index] for name in ("continuous_a", "burst_a")}
    return {"plug_index": index, **amps}


def _assumed(packs: Sequence[Pack]) -> dict[str, Any]:
    return {
        "leads_assumed": np.array(["lead_awg" in p.assumed for p in packs], dtype=bool),
        "plug_assumed": np.array(["plug" in p.assumed for p in packs], dtype=bool),
        # a typical pack is what it is: its mass stands for what is sold
        "mass_assumed": np.array(["mass_g" in p.assumed and not p.typical for p in packs], dtype=bool),
    }


@dataclass(frozen=True, slots=True)
class _Columns:
    """Figures of packs as columns."""

    packs: Sequence[Pack]

    @property
    def indices(self) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """Which chemistry and which kind each is."""
        chemistries = [CHEMISTRY_IDS.index(p.chemistry) for p in self.packs]
        kinds = [kind_index(p.kind) for p in self.packs]
        return np.array(chemistries, dtype=np.int64), np.array(kinds, dtype=np.int64)

    def figure(self, name: str) -> Floats:
        """NaN where nobody gave it."""
        values = (getattr(p, name) for p in self.packs)
        return np.array([math.nan if v is None else v for v in values], dtype=float)

    def taught(self, name: str, otherwise: Floats) -> Floats:
        """What a log taught, where one did."""
        values = (None if p.learnt is None else getattr(p.learnt, name) for p in self.packs)
        told = np.array([math.nan if v is None else v for v in values], dtype=float)
        return np.where(np.isnan(told), otherwise, told)


def _sizes(columns: _Columns) -> dict[str, Any]:
    return {side: columns.figure(side) for side in ("length_mm", "width_mm", "height_mm")}


def _capacity_spread(packs: Sequence[Pack]) -> Floats:
    """± of what each holds: by its charges or a log, else by its label, whoever measured what it resists."""
    found = (p.measured_capacity for p in packs)
    return np.array([EXPECTED_SPREAD[1] if held is None else held.spread for held in found], dtype=float)


def _slow_part(columns: _Columns, found: Floats, expected: Floats) -> dict[str, Any]:
    """The slow part of each, and how far off it may be: by a log, else usual for an ``expected`` R0."""
    index, _ = columns.indices
    log = [p.learnt for p in columns.packs]
    by_log = [math.nan if x is None or x.slow_ratio is None else x.slow_ratio * x.cell_mohm for x in log]
    usual_s = np.array([slow_time_constant_s(p.chemistry) for p in columns.packs])
    runs = np.array([p.at_hand for p in columns.packs], dtype=bool)
    ah = columns.figure("capacity_ah")
    by_label = np.where(
        runs,
        expected_slow_mohm(index, ah, np.minimum(expected, found)),
        expected_slow_mohm(index, ah, expected, found),
    )
    return {
        "slow_mohm": np.where(np.isnan(by_log), by_label, by_log),
        "slow_s": columns.taught("slow_s", usual_s),
        "slow_spread": columns.taught("slow_spread", np.full(len(index), SLOW_SPREAD)),
    }


def _ageing(pack: Pack) -> float:
    """Share of its capacity that a pack may have lost unseen: none where it was measured, or is new."""
    known = pack.measured_ah is not None or not pack.owned
    return 0.0 if known else AGEING[pack.level]


def _currents(
    mohm: Floats, known: Bools, ah: Floats, printed_c: Floats, burst_c: Floats, trust: LabelTrust
) -> tuple[Floats, Floats]:
    """Continuous and burst amps of cells; ``known`` where somebody measured what they resist."""
    trusted = trusted_c(printed_c, trust)
    continuous = np.where(known, np.minimum(honest_current_a(mohm, ah), printed_c * ah), trusted * ah)
    label_burst = burst_c * np.where(known, 1.0, trusted / printed_c) * ah
    most = np.where(known, 2 * CELL_BURST_FACTOR * continuous, np.inf)
    burst = np.where(np.isnan(burst_c), CELL_BURST_FACTOR * continuous, np.minimum(label_burst, most))
    return continuous, np.maximum(burst, continuous)


def _lead_limit(awg: Floats) -> Floats:
    gauges, at = np.unique(awg, return_inverse=True)
    return np.array([wire_continuous_a(g) for g in gauges.tolist()])[at]


def _lead_resistance(awg: Floats, length_mm: Floats) -> Floats:
    gauges, at = np.unique(awg, return_inverse=True)
    return np.array([lead_pair_resistance_mohm(g, 1.0) for g in gauges.tolist()])[at] * length_mm


def electrically_possible(c: Candidates, *, max_v: float, chemistries: Sequence[str]) -> NDArray[np.bool_]:
    """Candidates worth looking at: of a wanted chemistry, and with no more cells than the volts allow at
    nominal full charge.

    See NEARLY_ALLOWED.
    """
    full = chemistry_column("full_v")[c.chemistry_index] * c.series
    wanted = np.isin(c.chemistry_index, [CHEMISTRY_IDS.index(x) for x in chemistries])
    return np.asarray(wanted & ~passes_volts(full, NEARLY_ALLOWED * max_v))


def job_candidates(job: Job, packs: Sequence[Pack], pieces: tuple[Adapter, ...] = ()) -> Candidates:
    """Packs as candidates for a model, with the adapters that their plugs need of ``pieces``, those that are
    owned; where nobody said what plug or leads they have, those of the model are taken."""
    return suited(job, from_packs(packs, job.label_trust), pieces)


def suited(job: Job, c: Candidates, pieces: tuple[Adapter, ...] = ()) -> Candidates:
    """Candidates in a model: with its plug and gauge on single packs whose own nobody gave, since they would
    be bought with what fits; and with the adapters between."""
    return _by_their_ways(job, _as_it_runs(job, _as_heavy_as_now(job, _as_bought(job, c))), pieces)


def _as_it_runs(job: Job, c: Candidates) -> Candidates:
    """Packs of the box that look like what the model runs on, and of which nobody measured or printed what
    they resist, with what that must resist for the model to run as it was told."""
    each = each_as_told(job)
    if each is None or each.cell_mohm is None:
        return c
    rows = [k for k, p in enumerate(c.packs) if p and p.owned and _unknown(p) and looks_like(each, p)]
    if not rows:
        return c
    packs = [p for k in rows if (p := c.packs[k]) is not None]
    usual, _, _ = cell_resistances(packs, job.label_trust)
    told, spread, _ = cell_resistances([replace(p, cell_mohm=each.cell_mohm) for p in packs], job.label_trust)
    columns = {name: getattr(c, name).copy() for name in _BY_RESISTANCE}
    columns["resistance_spread"][rows] = spread
    # of a pair the same share
    columns["cell_mohm"][rows] *= told / usual
    columns["slow_mohm"][rows] *= np.minimum(1.0, told / usual)
    for amps in ("continuous_a", "burst_a"):
        # by the heat rule, and lifted too: it carries that
        columns[amps][rows] *= np.sqrt(usual / told)
    return replace(c, **columns)


_BY_RESISTANCE = ("cell_mohm", "slow_mohm", "continuous_a", "burst_a", "resistance_spread")


def _unknown(pack: Pack) -> bool:
    return pack.measured_mohm is None and pack.label_c is None


def _as_heavy_as_now(job: Job, c: Candidates) -> Candidates:
    """Typical packs in the light of the one that the model runs on, where somebody weighed it."""
    if (on_scale := weighed_now(job)) is None:
        return c
    typical = np.array([p is not None and p.typical for p in c.packs], dtype=bool)
    known = CHEMISTRY_IDS.index(on_scale.chemistry)
    of_its_kind = typical & (c.chemistry_index == known)
    if not of_its_kind.any():
        return c
    factor = pulled((on_scale,), on_scale.chemistry, c.series, c.capacity_ah)
    return replace(c, mass_g=np.where(of_its_kind, c.mass_g * factor, c.mass_g))


def weighed_now(job: Job) -> Weighed | None:
    """What the grams told of the pack of now say of others; None where they were assumed, and of a pack of
    the box, which speaks for itself."""
    now = job.now
    if now is None or now.pack or job.is_assumed("now.mass_g"):
        return None
    label_c = None if job.is_assumed("now.label_c") else now.label_c
    one = now.each
    return weighed(one.chemistry, one.series, one.capacity_ah, one.mass_g, label_c)


def _by_their_ways(job: Job, c: Candidates, pieces: tuple[Adapter, ...]) -> Candidates:
    """How each pack's plug meets the model's, and what the adapters between resist."""
    found: dict[tuple[str, str], PlugWay] = {}
    ways: list[PlugWay | None] = [None] * len(c)
    extra_mohm = np.zeros(len(c))
    resists: dict[tuple[str, str], float] = {}
    for row, pack in enumerate(c.packs):
        if pack is None:
            continue
        family = job.electronics.plug if "plug" in pack.assumed else pack.plug
        key = family, pack.plug_half
        if key not in found:
            found[key] = way_in(job, pack_end_in(job, pack), pieces)
            resists[key] = found[key].extra_mohm
        ways[row], extra_mohm[row] = found[key], resists[key]
    return replace(c, ways=ways, outside_mohm=c.outside_mohm + extra_mohm)


def _as_bought(job: Job, c: Candidates) -> Candidates:
    e = job.electronics
    single = ~c.is_kind("joined")
    plug_row, lead_row = c.plug_assumed & single, c.leads_assumed & single
    if not plug_row.any() and not lead_row.any():
        return c
    family = plug_family(e.plug)
    awg = np.where(lead_row, np.minimum(float(e.lead_awg), _sold_with(c, lead_row)), c.lead_awg)
    return replace(
        c,
        plug_index=np.where(plug_row, index_of_plug(family.id), c.plug_index),
        plug_continuous_a=np.where(plug_row, float(family.continuous_a), c.plug_continuous_a),
        plug_burst_a=np.where(plug_row, float(family.burst_a), c.plug_burst_a),
        lead_awg=awg,
        lead_continuous_a=np.where(lead_row, _lead_limit(awg), c.lead_continuous_a),
        outside_mohm=np.where(lead_row, _lead_resistance(awg, usual_lead_mm(c.capacity_ah)), c.outside_mohm),
    )


def _sold_with(c: Candidates, wanted: Bools) -> Floats:
    """The gauge that an owned pack of its size is sold with, as its form guesses it; inf for what is yet to
    be bought, which gets what the model has."""
    found = np.full(len(c), math.inf)
    for k in np.flatnonzero(wanted).tolist():
        p = c.packs[k]
        if p is not None and p.owned:
            found[k] = usual_awg(usual_load_a(p.chemistry, p.capacity_ah, p.label_c))
    return found
