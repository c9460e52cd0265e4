"""How warm plugs, leads and ways get in a run, and the smallest ones that stay cool."""

from __future__ import annotations

from coldstack.core.chain.adapters import Path
from coldstack.core.chain.plugs import PlugFamily, plug_families, plug_family
from coldstack.core.chain.warmth import HOT_RISE_K, PLUG_RISE_AT_RATING_K, WARM_RISE_K, Warming
from coldstack.core.chain.wire import USUAL_GAUGES, wire_continuous_a, wire_time_constant_s


def plug_rise_k(family: PlugFamily, warming: Warming) -> float:
    """How warm a pair of this family gets over the air. [K]"""
    return warming.rise_k(family.continuous_a, PLUG_RISE_AT_RATING_K, family.time_constant_s)


def wire_rise_k(awg: float, warming: Warming) -> float:
    """How warm leads of this gauge get over the air. [K]"""
    return warming.rise_k(wire_continuous_a(awg), HOT_RISE_K, wire_time_constant_s(awg))


def path_rise_k(path: Path, warming: Warming) -> float:
    """How warm the hottest part of a way gets: its pairs of plugs, and the wires between. [K]"""
    wires = [warming.rise_k(p.wire_a, HOT_RISE_K, wire_time_constant_s(p.awg)) for p in path.pieces]
    return max(*(plug_rise_k(plug_family(f), warming) for f in path.pairs), 0.0, *wires)


def stays_cool(family: PlugFamily, warming: Warming) -> bool:
    """Whether a pair of this family gets no warmer than at its rating."""
    return plug_rise_k(family, warming) <= PLUG_RISE_AT_RATING_K * (1 + 1e-9)


def cool_family(warming: Warming) -> PlugFamily | None:
    """The smallest family on packs that gets no warmer than at its rating, keyed ones first; None if none
    does."""
    cool = [f for f in plug_families().values() if f.on_packs and f.recommended]
    cool = [f for f in cool if stays_cool(f, warming)]
    return min(cool, key=lambda f: (not f.keyed, f.continuous_a, f.resistance_mohm), default=None)


def cool_awg(warming: Warming) -> float:
    """The thinnest usual lead that stays cool; the thickest where none does. [AWG]"""
    return float(next((g for g in USUAL_GAUGES if wire_rise_k(g, warming) <= WARM_RISE_K), USUAL_GAUGES[-1]))
