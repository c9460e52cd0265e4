"""A model's mass, and the capacity of what it runs on, where its owner gave neither: supposed in sight."""

from __future__ import annotations

import math
from dataclasses import replace

from coldstack.core.describing.answers import Answers, motors
from coldstack.core.describing.model_classes import LIPO_V, Clues, Likely, chosen_class, guessed_class
from coldstack.core.describing.physics import average_by_physics, full_stick, peak_by_physics
from coldstack.core.describing.pieces import Estimate, EvidencePiece
from coldstack.core.packs.masses import typical_mass_g
from coldstack.core.propulsion.steady import GRAVITY
from coldstack.core.rules.house_rules import HouseRules, for_chemistry

CLASS_MASS_SPANS = 4.0
"""The lightest and the heaviest of a class are so many σ apart. House figure, as those below."""
THRUST_SIGMA = 0.35
WITHOUT_PACK = 0.80
"""Of the mass all up, that without the pack."""
BY_RATIO_SIGMA, BY_WATTS_SIGMA = 0.5, 0.6


def supposed(a: Answers, rules: HouseRules) -> Answers:
    """The answers with mass and capacity where they were not told."""
    if not a.mass_told:
        a = replace(a, mass_g=float(f"{_mass_g(a):.2g}"))
    if not a.capacity_told:
        ah = float(f"{_capacity_ah(a, rules):.2g}")
        grams = a.now.mass_g
        if not a.now_mass_told:
            grams = float(f"{typical_mass_g(a.now.chemistry, a.now.series, ah, a.now.label_c):.2g}")
        a = replace(a, now=replace(a.now, capacity_ah=ah, mass_g=grams))
    return a


def _likely(a: Answers) -> Likely:
    if a.model_class:
        return chosen_class(a.model_class, a.kind)
    mass_g = a.mass_g if a.mass_told else None
    return guessed_class(a.kind, Clues(a.name, mass_g, a.now.nominal_v / LIPO_V, label_c=a.now.label_c))


def _mass_g(a: Answers) -> float:
    """By its class, and by what its propellers pull. [g]"""
    likely = _likely(a)
    best = likely.best
    sigma = max(math.log(best.mass_g[1] / best.mass_g[0]) / CLASS_MASS_SPANS, 0.3)
    pieces = [EvidencePiece("class", "its class", likely.usual(lambda c: c.usual_mass_g), sigma)]
    one, over = full_stick(a), likely.usual(lambda c: c.thrust_to_weight)
    if one is not None and over > 0:
        pulled = 1000 * WITHOUT_PACK * motors(a) * one.thrust_n / GRAVITY / over
        pieces.append(EvidencePiece("thrust", "what its propellers pull", pulled, THRUST_SIGMA))
    return Estimate(tuple(pieces)).median_a


def _capacity_ah(a: Answers, rules: HouseRules) -> float:
    """What its average takes for the minutes told, wanted, or usual for its class. [Ah]"""
    likely = _likely(a)
    kg = a.mass_g / WITHOUT_PACK / 1000
    watts = likely.usual(lambda c: c.w_per_kg) * kg / a.now.nominal_v
    heavy = replace(a, now=replace(a.now, mass_g=1000 * kg - a.mass_g))
    ratio = likely.usual(lambda c: c.peak_ratio)
    told = a.usage.average_a
    pieces = (
        EvidencePiece("class watts", "its class", watts, BY_WATTS_SIGMA),
        *average_by_physics(heavy, likely),
        *(
            EvidencePiece(p.id, p.words, p.median_a / ratio, math.hypot(p.sigma, BY_RATIO_SIGMA))
            for p in peak_by_physics(heavy, likely)
        ),
    )
    average_a = told if told is not None else Estimate(pieces).median_a
    minutes = a.usage.minutes or a.goals.minutes or likely.usual(lambda c: c.usual_minutes)
    return average_a * minutes / 60 / for_chemistry(rules, a.now.chemistry).usable
