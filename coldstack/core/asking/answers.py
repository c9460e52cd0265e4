"""A slip in what is told of a new model: mass against pack and class, draw against capacity."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from coldstack.core.asking.question import Question, asked_of
from coldstack.core.asking.runs import beyond, most_put_back
from coldstack.core.asking.slips import MASSES, TENFOLD, TIMES, Figures, likely_slip, off, outside
from coldstack.core.cells.chemistry import chemistry
from coldstack.core.describing.answers import Answers
from coldstack.core.describing.model_classes import LIPO_V, ModelClass, classes_of, model_class
from coldstack.core.packs.masses import typical_mass_g

USED = 0.8
"""Share of a pack that a run uses. House figure, as all below; those of a class stand with the classes."""
ENERGY_SIGMA, WATTS_SIGMA, MINUTES_SIGMA, LABEL_SIGMA = 0.45, 0.55, 0.50, 0.65
"""How far one model is from the usual of its class: energy and watts per kg, minutes, C printed."""
MASS_SIGMA, PACK_SIGMA, PEAK_SIGMA, WISH_SIGMA, SUM_SIGMA = 0.35, 0.25, 0.45, 0.55, 0.30
"""Mass outside its class; the pack's against such packs'; peak over average; what is wanted against what is;
minutes × amps against what the pack holds."""
RPM = (2000.0, 70_000.0)
"""What motors of models turn without a load, from and to. [rpm]"""


def slips_in_answers(a: Answers) -> list[Question]:
    """What to ask of these answers: the likeliest slip in them, if there is one, at its field."""
    figures = _figures(a)
    turns = {name: factors for name, factors in _TURNS.items() if name in figures}
    kinds = [model_class(a.model_class, a.kind)] if a.model_class else classes_of(a.kind)
    slip = likely_slip(figures, turns, lambda f: max(_fit(a, c, f) for c in kinds), sure=a.sure)
    if slip:
        return [asked_of(slip, a, _against(slip.field, a))]
    return [] if "usage.put_back_mah" in a.sure else _too_much_back(a)


def _too_much_back(a: Answers) -> list[Question]:
    """More than the pack can have given, though no turn of the finger explains it."""
    ah = a.now.capacity_ah if a.now.joined == "parallel" else a.now.each.capacity_ah
    found = beyond(a.usage.put_back_mah, 1000 * ah, most_put_back(a.now.chemistry))
    return [replace(q, field="usage.put_back_mah") for q in found]


_TURNS = {
    "mass_g": MASSES,
    "now.series": (0.1, 10.0),
    "now.capacity_ah": TENFOLD,
    "now.mass_g": MASSES,
    "now.label_c": (0.1, 10.0),
    "usage.minutes": TIMES,
    "usage.put_back_mah": TENFOLD,
    "usage.average_a": TENFOLD,
    "usage.peak_a": TENFOLD,
    "limits.controller_a": TENFOLD,
    "limits.motor_kv": TENFOLD,
    "goals.minutes": TIMES,
    "goals.mass_g": MASSES,
}


def _figures(a: Answers) -> Figures:
    """What was told, by its field; nothing that stands in for a figure."""
    one = a.now.each
    found: dict[str, float | None] = {
        "mass_g": a.mass_g,
        "now.series": one.series,
        "now.capacity_ah": one.capacity_ah,
        "now.mass_g": one.mass_g if a.now_mass_told else None,
        "now.label_c": one.label_c,
        "usage.minutes": a.usage.minutes,
        "usage.put_back_mah": a.usage.put_back_mah,
        "usage.average_a": a.usage.average_a,
        "usage.peak_a": a.usage.peak_a,
        "limits.controller_a": a.limits.controller_a,
        "limits.motor_kv": a.limits.motor_kv,
        "goals.minutes": a.goals.minutes,
        "goals.mass_g": a.goals.mass_g,
    }
    return {name: float(value) for name, value in found.items() if value}


@dataclass(frozen=True, slots=True)
class _Pack:
    """The pack of now, or both of them, by these figures."""

    volts: float
    ah: float
    mass_g: float
    usual_g: float


def _pack(a: Answers, f: Figures) -> _Pack:
    one, ah, series = a.now.each, f["now.capacity_ah"], f["now.series"]
    usual_g = typical_mass_g(one.chemistry, max(1, round(series)), ah, f.get("now.label_c"))
    in_series, beside = (2 if a.now.joined == x else 1 for x in ("series", "parallel"))
    packs = in_series * beside
    volts = in_series * series * chemistry(one.chemistry).nominal_v
    return _Pack(volts, beside * ah, packs * f.get("now.mass_g", usual_g), packs * usual_g)


def _fit(a: Answers, c: ModelClass, f: Figures) -> float:
    """How well the figures suit each other in this class."""
    pack = _pack(a, f)
    kg = (f["mass_g"] + pack.mass_g) / 1000
    used_ah = USED * pack.ah
    found = outside(f["mass_g"], *c.mass_g, MASS_SIGMA)
    lipo_cells = pack.volts / LIPO_V
    found += outside(lipo_cells, c.cells[0], c.cells[1], 0.35)
    found += off(used_ah * pack.volts / kg, c.w_per_kg * c.usual_minutes / 60, ENERGY_SIGMA)
    found += off(pack.mass_g, pack.usual_g, PACK_SIGMA)
    minutes, average, peak = (f.get(f"usage.{x}") for x in ("minutes", "average_a", "peak_a"))
    if "now.label_c" in f:
        found += off(f["now.label_c"], c.label_c, LABEL_SIGMA)
    if minutes:
        found += off(minutes, c.usual_minutes, MINUTES_SIGMA)
    if back := f.get("usage.put_back_mah"):
        found += outside(back / 1000, 0.3 * pack.ah, pack.ah, SUM_SIGMA)
    if average:
        found += off(average * pack.volts / kg, c.w_per_kg, WATTS_SIGMA)
    if average and minutes:
        found += off(average * minutes / 60, used_ah, SUM_SIGMA)
    if peak:
        usual = c.peak_ratio * (average or c.w_per_kg * kg / pack.volts)
        found += off(peak, usual, PEAK_SIGMA if average else math.hypot(PEAK_SIGMA, WATTS_SIGMA))
    if each := f.get("limits.controller_a"):
        most = c.peak_ratio * c.w_per_kg * kg / pack.volts
        many = (a.limits.controllers or a.rotors or 4) if a.limits.ratings == "each" and _many(a) else 1
        found += outside(each * many, 0.5 * most, 4.0 * most, WATTS_SIGMA)
    if kv := f.get("limits.motor_kv"):
        found += outside(kv * pack.volts, *RPM, SUM_SIGMA)
    if wanted := f.get("goals.minutes"):
        found += off(wanted, minutes or c.usual_minutes, WISH_SIGMA)
    if heaviest := f.get("goals.mass_g"):
        found += outside(heaviest, 0.7 * pack.mass_g, 2.0 * pack.mass_g, SUM_SIGMA)
    return found


def _many(a: Answers) -> bool:
    return a.kind == "multirotor" or (a.limits.controllers or 1) > 1


def _against(field: str, a: Answers) -> str:
    """What a figure does not go with."""
    one = a.now.each
    pack = f"a {one.series}S {1000 * one.capacity_ah:.0f} mAh pack"
    if field.startswith("now."):
        return "with the rest of it"
    return f"with {pack}" if field != "goals.minutes" else "with such a model"
