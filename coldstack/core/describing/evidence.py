"""What a model draws, by all that is known of it: average and peak each as a median with a spread.

Each piece of evidence is a median and a standard deviation in logarithms; together they are their product:
the median weighed by 1 ÷ σ², and a spread no wider than that of any of them. People choose pack, controller
and plug for the peak, so that these raise it as well as cap it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from coldstack.core.chain.plugs import plug_family
from coldstack.core.chain.warmth import HOT_RISE_K, PLUG_RISE_AT_RATING_K
from coldstack.core.describing.answers import Answers, controllers
from coldstack.core.describing.model_classes import LIPO_V, Clues, Likely, chosen_class, guessed_class
from coldstack.core.describing.physics import SUPPOSED_MASS_SIGMA, average_by_physics, peak_by_physics
from coldstack.core.describing.pieces import Estimate, EvidencePiece, strongest
from coldstack.core.trial.job import USUAL_BURST_SHARE
from coldstack.core.units import written

TOLD_SPREAD = {"minutes": 0.12, "put_back": 0.10, "amps": 0.08}
"""How far the average may be off, by how it was told, as ±. House figures; logged runs narrow it."""
CLASS_MINUTES_SIGMA = {True: 0.30, False: 0.46}
"""Of its pack at the usual minutes of its class, which somebody chose, or which was guessed. House figures,
as those below."""
CLASS_WATTS_SIGMA = {True: 0.50, False: 0.75}
CLASS_CHANGES_SIGMA = 0.15
"""What a guessed class adds to the factor of its peak."""
RATIO_SIGMA = 0.5
"""Of the peak over the average, where the average is to follow from the peak."""
LEAST_PEAK = 1.1
"""Peak over average that is assumed at least."""
PEAK_SHARE = 0.5
"""Share of the charge that peaks may take at most where nobody said how often they come."""
RAREST_PEAK_S = 7200.0
"""A peak that comes more seldom is no part of a duty."""
OWN_SIGMA = 0.22
"""Of how one owner flies or drives over how his class does: every piece that goes by the class has it, so
that they never tell it away. House figure, held against the demo's logs."""
WISH_SIGMA = 0.5
"""Who wants so many minutes mostly has about as many: of the average that this speaks for."""
LABEL_SHARE, LABEL_SIGMA = 0.50, 0.80
"""Of the printed amps of the pack it runs on, what it mostly draws at its peak. House figure."""
RATING_SHARE, RATING_SIGMA = 0.52, 0.50
"""The same of what its controllers carry for ten seconds. House figure."""
PLUG_SHARE, PLUG_SIGMA = 0.50, 0.80
"""The same of what warms its plug to its limit within the seconds of the peak. House figure."""


@dataclass(frozen=True, slots=True)
class Drawn:
    """What a model draws on what it runs on now: average, peak, its seconds, how often it comes at most;
    ``likely`` its class. The peak is None where it was told."""

    likely: Likely
    average: Estimate
    peak: Estimate | None
    peak_s: float
    peak_every_s: float

    def comes_every_s(self, average_a: float, peak_a: float) -> float:
        """How often such a peak comes: so seldom that peaks take no more of the charge than they may. [s]"""
        return max(self.peak_every_s, peak_a * self.peak_s / (PEAK_SHARE * average_a))


def drawn_by(a: Answers, *, usable_ah: float) -> Drawn:
    """Average and peak by all that was told; ``usable_ah`` of the pack of now between full and landing."""
    likely = class_of(a, usable_ah=usable_ah)
    peak_s = a.usage.peak_s
    if peak_s is None:
        peak_s = float(max(1, round(likely.usual(lambda c: c.peak_s))))
    chosen_for = _chosen_for_the_peak(a, peak_s)
    full_stick = peak_by_physics(a, likely)
    told = _told(a, usable_ah)
    untold = () if told else _untold(a, likely, usable_ah, (*chosen_for, *full_stick))
    average = Estimate(told) if told else Estimate(untold, OWN_SIGMA, a.propulsion.off_by)
    by_class = _by_class(average, likely)
    speaks = [p for p in chosen_for if _speaks(a, p, by_class)]
    peak = None if a.usage.peak_a is not None else Estimate((by_class, *speaks, *full_stick))
    return Drawn(likely, average, peak, peak_s, likely.usual(lambda c: c.peak_every_s))


def class_of(a: Answers, *, usable_ah: float) -> Likely:
    """Its class: the one chosen, else by all that was told."""
    if a.model_class:
        return chosen_class(a.model_class, a.kind)
    volts, kg = a.now.nominal_v, (a.mass_g + a.now.mass_g) / 1000
    told = _told(a, usable_ah)
    rating_a = controllers_burst_a(a)
    return guessed_class(
        a.kind,
        Clues(
            name=a.name,
            mass_g=a.mass_g if a.mass_told else None,
            cells=volts / LIPO_V,
            wh_per_kg=usable_ah * volts / kg if a.capacity_told else None,
            label_c=a.now.label_c,
            minutes=60 * usable_ah / Estimate(told).median_a if told and a.capacity_told else None,
            w_per_kg=Estimate(told).median_a * volts / kg if told else None,
            burst_w_per_kg=rating_a * volts / kg if rating_a else None,
        ),
    )


def _told(a: Answers, usable_ah: float) -> tuple[EvidencePiece, ...]:
    """What was told of the average: usable charge over minutes, or mAh over minutes, and amps."""
    g, found = a.usage, []

    def piece(how: str, words: str, amps: float) -> EvidencePiece:
        return EvidencePiece(how, words, amps, math.log1p(TOLD_SPREAD[how]) / 2)

    if g.put_back_mah is not None and g.minutes is not None:
        found.append(piece("put_back", "what went back", g.put_back_mah / 1000 / (g.minutes / 60)))
    elif g.minutes is not None and a.capacity_told:
        found.append(piece("minutes", "its minutes", usable_ah / (g.minutes / 60)))
    if g.average_a is not None:
        found.append(piece("amps", "the meter", g.average_a))
    return tuple(found)


def _untold(
    a: Answers, likely: Likely, usable_ah: float, chosen_for: tuple[EvidencePiece, ...]
) -> tuple[EvidencePiece, ...]:
    watts = likely.usual(lambda c: c.w_per_kg) * (a.mass_g + a.now.mass_g) / 1000
    ratio, _ = _ratio(likely)
    by_peak = _by_its_peak(chosen_for, ratio)
    of_pack = _by_its_pack(a, likely, usable_ah) if a.capacity_told else ()
    unsure = 0.0 if a.mass_told else SUPPOSED_MASS_SIGMA
    return (
        *of_pack,
        EvidencePiece(
            "class watts",
            f"the watts of {likely.best.a_name}",
            watts / a.now.nominal_v,
            math.hypot(CLASS_WATTS_SIGMA[likely.chosen], unsure),
        ),
        *average_by_physics(a, likely),
        *by_peak,
    )


def _by_its_peak(pieces: tuple[EvidencePiece, ...], ratio: float) -> tuple[EvidencePiece, ...]:
    """What its peak says of the average. One piece, since all of them lean on the same ratio."""
    if not pieces:
        return ()
    peak, words = Estimate(pieces), strongest(pieces).words
    return (EvidencePiece("peak", words, peak.median_a / ratio, math.hypot(peak.sigma, RATIO_SIGMA)),)


def _by_its_pack(a: Answers, likely: Likely, usable_ah: float) -> tuple[EvidencePiece, ...]:
    """What the pack that somebody bought for it says: its class's usual minutes on it, those wanted."""
    minutes = likely.usual(lambda c: c.usual_minutes)
    words = f"{written(minutes)} min, as usual for {likely.best.a_name}"
    usual = EvidencePiece(
        "class minutes", words, usable_ah / (minutes / 60), CLASS_MINUTES_SIGMA[likely.chosen]
    )
    if not a.goals.minutes:
        return (usual,)
    wished = usable_ah / (a.goals.minutes / 60)
    return usual, EvidencePiece("goals", "the minutes wanted", wished, WISH_SIGMA)


def _ratio(likely: Likely) -> tuple[float, float]:
    """Peak over average of the class, and σ of its logarithm."""
    sigma = math.log(likely.usual(lambda c: c.peak_factor))
    return likely.usual(lambda c: c.peak_ratio), sigma + (0.0 if likely.chosen else CLASS_CHANGES_SIGMA)


def _by_class(average: Estimate, likely: Likely) -> EvidencePiece:
    ratio, sigma = _ratio(likely)
    words = f"{written(ratio)} times the average, as usual for {likely.best.a_name}"
    return EvidencePiece("class peak", words, ratio * average.median_a, math.hypot(sigma, average.sigma))


LOWEST_SOLD_C = 25.0
"""Packs of less are hardly sold: such a label was not chosen for the peak, and only caps it. [1/h]"""


def _speaks(a: Answers, piece: EvidencePiece, by_class: EvidencePiece) -> bool:
    """Whether it was chosen for the peak; the lowest C that is sold was not, unless the peak passes it."""
    lowest = piece.id == "label" and (a.now.label_c or 0.0) <= LOWEST_SOLD_C
    return not lowest or by_class.median_a > piece.median_a


def _chosen_for_the_peak(a: Answers, peak_s: float) -> tuple[EvidencePiece, ...]:
    """What people choose for the peak, where it was told: the pack's label, the controllers, the plug."""
    found = []
    if a.now.label_c is not None and a.capacity_told:
        amps = LABEL_SHARE * a.now.label_c * a.now.capacity_ah
        found.append(EvidencePiece("label", f"its pack’s {written(a.now.label_c)}C", amps, LABEL_SIGMA))
    rating_a = controllers_burst_a(a)
    if rating_a is not None:
        found.append(EvidencePiece("controller", "its controller", RATING_SHARE * rating_a, RATING_SIGMA))
    plug = a.limits.plug or a.now_plug
    if plug is not None:
        family = plug_family(plug)
        warmed = PLUG_RISE_AT_RATING_K * -math.expm1(-peak_s / family.time_constant_s)
        amps = family.continuous_a * math.sqrt(HOT_RISE_K / warmed)
        found.append(EvidencePiece("plug", f"its {family.name}", PLUG_SHARE * amps, PLUG_SIGMA))
    return tuple(found)


def controllers_burst_a(a: Answers) -> float | None:
    """What all its controllers let through for ten seconds; None where nobody told their rating. [A]"""
    t = a.limits
    rating = t.controller_burst_a
    if rating is None and t.controller_a is not None:
        rating = USUAL_BURST_SHARE * t.controller_a
    return None if rating is None else rating * (1 if t.ratings == "together" else controllers(a))
