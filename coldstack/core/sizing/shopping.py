"""The shopping line: what to ask for in a shop, in a shop's words, from what does the job."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRY_IDS, chemistry
from coldstack.core.cells.resistance import CELL_BURST_FACTOR, TRUST_WORDS, held_for_a, label_for_c
from coldstack.core.chain.plugs import plug_family
from coldstack.core.draw.motion import Motion
from coldstack.core.packs.masses import pulled, typical_mass_g
from coldstack.core.packs.typical import sold_labels_c, typical_packs
from coldstack.core.rules.house_rules import for_chemistry
from coldstack.core.sizing.pairs import PAIR_MASS, SOLD_IN_ONE
from coldstack.core.trial.candidates import Candidates, weighed_now
from coldstack.core.trial.checks.flight import HEAVIER_CARE, all_up_today_g
from coldstack.core.trial.checks.unmeasured import AS_STRONG, stay_at_c
from coldstack.core.trial.evaluate import Evaluation
from coldstack.core.trial.job import BAY_CLEARANCE_MM, Job
from coldstack.core.units import GRAMS, MM, about_number, plain_number, upper_first
from coldstack.core.working import Step, Working


@dataclass(frozen=True, slots=True)
class Shopping:
    """What to look for. Capacity of the whole from and to [Ah], honest and printed C at least (None where no
    label tells it), mass at most [g], box at most [mm] (None where it does not matter). ``packs``: how many
    are bought, to be joined."""

    line: str
    series: int
    chemistry: str
    packs: int
    capacity_ah: tuple[float, float]
    least_c: float
    label_c: float | None
    mass_g: float | None
    box_mm: tuple[float, float, float] | None
    plug: str
    working: Working


def closed_form_capacity_ah(job: Job, chemistry_id: str, *, series: int, minutes: float) -> float:
    """Capacity for a running time by the closed form, ``I_avg·t ÷ usable``, at the volts of this cell
    count. [Ah]

    The average is carried over to the candidate's volts with its watts kept; mass and sag are left out.
    """
    rules = for_chemistry(job.rules, chemistry_id)
    ratio = job.told_at_v / (series * chemistry(chemistry_id).nominal_v)
    return job.duty.average_current_a * ratio * minutes / 60.0 / rules.usable


def least_c(rms_a: float, peak_a: float, capacity_ah: float, peak_s: float = 0.0) -> float:
    """C that carries the RMS amps continuously and the peak for its seconds: ``max(I_rms ÷ Ah, I_peak ÷
    burst factor ÷ Ah)``."""
    return max(rms_a / capacity_ah, peak_a / burst_factor(peak_s) / capacity_ah)


def burst_factor(peak_s: float) -> float:
    """What cells give for so many seconds, over what they give all the time."""
    return float(held_for_a(1.0, CELL_BURST_FACTOR, peak_s))


LEAST_OF_LIKE, MOST_OF_LIKE = 0.85, 1.3
"""The range of capacities asked for, of that of the pack that would do best. House figures."""
LABEL_STEPS_C = 5.0
"""Between the Cs that are asked for. [1/h]"""


def shopping(e: Evaluation, *, like: int) -> Shopping | None:
    """What to ask for, with the cells and chemistry of candidate ``like``; None if no pack that is sold
    does it.

    The capacities are sold ones that do the job, whose packs of the C asked for weigh no more than the
    grams asked for. Cylindrical cells are built: for those the build itself is the shopping line.
    """
    c, job = e.candidates, e.job
    if c.kind(like).from_cells:
        return _build_line(e, like)
    chemistry_id = CHEMISTRY_IDS[int(c.chemistry_index[like])]
    asked = _Asked.of(e, like, chemistry_id)
    sizes = {*_sold_ah(chemistry_id, asked.parallel), _printed_ah(c, like)}
    able = [ah for ah in sorted(sizes) if asked.allows(ah)]
    if not able:
        return None
    low = able[0]
    label_c = asked.label_c(low)
    high = [ah for ah in able if asked.light_enough(ah, label_c)][-1]
    series, plug = int(c.series[like]), plug_family(job.electronics.plug)
    grams, box = asked.most_g, _room_mm(job)
    usual_g = asked.mass_g(high, label_c)
    each_ah = [f"{_mah(ah / asked.parallel)}" for ah in ((low, high) if high > low else (low,))]
    each, together = ("each ", " together") if asked.packs > 1 else ("", "")
    mass = f"at most {plain_number(grams, 3)}{GRAMS}" if grams else f"about {about_number(usual_g)}{GRAMS}"
    parts = [
        _cells_words(chemistry_id, series, asked.packs, asked.parallel),
        f"{each}{' to '.join(each_ah)} mAh",
        *([f"labelled {label_c:g}C or more"] if label_c is not None else []),
        f"{mass}{together}",
        *(["at most " + " × ".join(plain_number(x) for x in box) + MM] if box else []),
        f"your plug: say which ({plug.name} assumed)" if job.is_assumed("electronics.plug") else plug.name,
    ]
    return Shopping(
        line=", ".join(parts),
        series=series,
        chemistry=chemistry_id,
        packs=asked.packs,
        capacity_ah=(low, high),
        least_c=asked.honest_c(low),
        label_c=label_c,
        mass_g=grams,
        box_mm=box,
        plug=job.electronics.plug,
        working=_working(asked, chemistry_id, series, low, high),
    )


@dataclass(frozen=True, slots=True)
class _Asked:
    """What is asked of packs like one candidate: its amps, the grams and minutes it must keep to."""

    e: Evaluation
    like: int
    chemistry: str
    packs: int
    parallel: int
    rms_a: float
    peak_a: float
    least_ah: float
    most_g: float | None

    @classmethod
    def of(cls, e: Evaluation, like: int, chemistry_id: str) -> _Asked:
        c, job = e.candidates, e.job
        kind = c.kind(like)
        series = int(c.series[like])
        is_now = kind.id == "now"
        joined = _joined(job) if is_now else ""
        side_by_side = kind.beside or joined == "parallel"
        two = kind.joined or bool(joined)
        two = two or ((is_now or kind.made_up) and series >= SOLD_IN_ONE and series % 2 == 0)
        like_ah, minutes = float(c.capacity_ah[like]), float(e.minutes[like])
        # in proportion to the minutes: a smaller pack is lighter too, so that this is on the safe side
        share = max(LEAST_OF_LIKE, (job.wants.minutes or 0.0) / max(minutes, 1e-9))
        return cls(
            e=e,
            like=like,
            chemistry=chemistry_id,
            packs=2 if two else 1,
            parallel=2 if side_by_side else 1,
            rms_a=float(e.discharge.rms_current_a[like]),
            peak_a=float(e.discharge.peak_current_a[like]),
            least_ah=min(share, 1.0) * like_ah,
            most_g=_most_g(e, like),
        )

    def honest_c(self, ah: float) -> float:
        """By the closed form. [1/h]"""
        return least_c(self.rms_a, self.peak_a, ah, self.e.job.duty.longest_peak_s)

    def label_c(self, ah: float) -> float | None:
        """What to have on the label at this size: what the house's trust takes for enough, and no less than
        the pack of now while nobody measured the peak; None where such packs print none. [1/h]"""
        cell, job = chemistry(self.chemistry), self.e.job
        if not cell.polymer and cell.typical_resistance_mohm_ah is not None:
            return None
        need = float(label_for_c(self.honest_c(ah), job.label_trust))
        now = job.now
        if now is not None and now.label_c is not None and job.is_assumed("draw.peak_a"):
            need = max(need, stay_at_c(now.label_c, now.capacity_ah, ah))
        if math.isinf(need):
            need = 1000.0  # no label is believed so far
        sold = sold_labels_c(self.chemistry, ah / self.parallel)
        asked = next((c for c in sold if c >= need - 1e-9), LABEL_STEPS_C * math.ceil(need / LABEL_STEPS_C))
        # what it bears today it may go on bearing: no shop has more
        return min(asked, sold[-1]) if self._as_strong_as_now(sold[-1], ah) else asked

    def _as_strong_as_now(self, most: float, ah: float) -> bool:
        now = self.e.job.now
        if now is None or now.label_c is None:
            return False
        return most * ah >= AS_STRONG * now.label_c * now.capacity_ah

    def light_enough(self, ah: float, label_c: float | None) -> bool:
        """Whether packs of this size and label keep to the grams."""
        return self.most_g is None or self.mass_g(ah, label_c) <= self.most_g

    def mass_g(self, ah: float, label_c: float | None) -> float:
        """What such packs usually weigh in all, as the model's own pack lets one expect. [g]"""
        each_ah = ah / self.parallel
        series = int(self.e.candidates.series[self.like])
        each = series // self.packs if self.packs > self.parallel else series
        usual = typical_mass_g(self.chemistry, each, each_ah, label_c)
        known = weighed_now(self.e.job)
        # who weighed a light pack may not find one as light: that counts for less mAh, never for more
        factor = max(float(pulled((known,), self.chemistry, each, each_ah)), 1.0) if known else 1.0
        return usual * factor * (2 * PAIR_MASS if self.packs == 2 else 1.0)

    def allows(self, ah: float) -> bool:
        """Whether packs of this size are sold with the C that they need, and are light enough."""
        like_ah = float(self.e.candidates.capacity_ah[self.like])
        if not self.least_ah - 1e-9 <= ah <= MOST_OF_LIKE * like_ah:
            return False
        label_c = self.label_c(ah)
        sold = label_c is None or label_c <= sold_labels_c(self.chemistry, ah / self.parallel)[-1]
        return sold and self.light_enough(ah, label_c)


def _joined(job: Job) -> str:
    return job.now.joined if job.now else ""


def _most_g(e: Evaluation, like: int) -> float | None:
    """Grams to keep to: those wanted, else those up to which what flies is no heavier than it was by more
    than a little, or than with the pack that would do best. [g]"""
    job = e.job
    if job.wants.mass_g:
        return job.wants.mass_g
    if not job.motion.flies or job.now is None:
        return None
    little = (1 + HEAVIER_CARE) * all_up_today_g(job) - job.mass_g
    return float(about_number(max(little, A_LITTLE_MORE * float(e.candidates.mass_g[like]))))


A_LITTLE_MORE = 1.05
"""Packs of one size and C differ by as much."""


def _printed_ah(c: Candidates, like: int) -> float:
    """What is printed on the pack, or on both of two; a pack of the box may hold less by now. [Ah]"""
    pack = c.packs[like]
    held = float(c.capacity_ah[like])
    return round(held if pack is None or not pack.owned else held * pack.capacity_ah / pack.held_ah, 3)


def _sold_ah(chemistry_id: str, parallel: int) -> list[float]:
    """Capacities that are sold, of so many side by side. [Ah]"""
    return sorted({p.capacity_ah * parallel for p in typical_packs() if p.chemistry == chemistry_id})


def _cells_words(chemistry_id: str, series: int, packs: int, parallel: int) -> str:
    """As shops print them: "4S LiPo (14.8 V)", "7.2 V NiMH of 6 cells", "two 6S LiPo in series"."""
    cell = chemistry(chemistry_id)
    each = series // packs if packs > parallel else series
    volts = f"{each * cell.nominal_v:.1f} V"
    one = f"{volts} {cell.name} of {each} cells" if not cell.balanced else f"{each}S {cell.name} ({volts})"
    if packs == 1:
        return one
    return f"two {one} {'side by side' if parallel == packs else 'in series'}"


def _build_line(e: Evaluation, row: int) -> Shopping:
    """A pack made of the candidate's cells: their capacity and the amps that each must give."""
    c, d, job, n = e.candidates, e.discharge, e.job, plain_number
    series, strings = int(c.series[row]), int(c.parallel[row])
    cell_ah = float(c.capacity_ah[row]) / strings
    rms, peak = float(d.rms_current_a[row]) / strings, float(d.peak_current_a[row]) / strings
    cell_a = max(rms, peak / CELL_BURST_FACTOR)
    chemistry_id = CHEMISTRY_IDS[int(c.chemistry_index[row])]
    count = f"{series * strings} cells"
    plug = plug_family(job.electronics.plug)
    line = (
        f"{series}S{strings}P of {chemistry(chemistry_id).name} cells ({count}) of {n(cell_ah)} Ah, each "
        "good for "
        f"{n(np.ceil(cell_a))} A, about {n(float(c.mass_g[row]))}{GRAMS} in all, {plug.name}"
    )
    steps = (
        Step(
            "Amps a cell",
            "max(I_rms, I_peak ÷ 1.5) ÷ strings",
            f"max({n(rms * strings)}, {n(peak * strings)} ÷ 1.5) ÷ {strings} = {n(cell_a)} A",
        ),
        Step(
            "Capacity", "cell × strings", f"{n(cell_ah)} Ah × {strings} = {n(float(c.capacity_ah[row]))} Ah"
        ),
        Step("Mass", "cells + 6 % + leads and plug", f"{n(float(c.mass_g[row]))}{GRAMS}"),
    )
    ah = float(c.capacity_ah[row])
    return Shopping(
        line,
        series,
        chemistry_id,
        1,
        (ah, ah),
        cell_a / cell_ah,
        None,
        job.wants.mass_g,
        None,
        plug.id,
        Working("Shopping line", steps),
    )


def _room_mm(job: Job) -> tuple[float, float, float] | None:
    bay, least = job.bay, 2 * BAY_CLEARANCE_MM
    if not (bay.length_mm and bay.width_mm and bay.height_mm):
        return None
    return bay.length_mm - least, bay.width_mm - least, bay.height_mm - least


def _working(asked: _Asked, chemistry_id: str, series: int, low_ah: float, high_ah: float) -> Working:
    n, job = plain_number, asked.e.job
    rules = for_chemistry(job.rules, chemistry_id)
    usable = rules.start_soc - rules.landing_soc
    steps = []
    if job.wants.minutes:
        ah = closed_form_capacity_ah(job, chemistry_id, series=series, minutes=job.wants.minutes)
        volts = series * chemistry(chemistry_id).nominal_v
        amps = job.duty.average_current_a * job.told_at_v / volts
        told = f"{n(job.duty.average_current_a)} A × {n(job.told_at_v)} V"
        steps = [
            Step("Average at these volts", "I·V_ref ÷ V", f"{told} ÷ {n(volts)} V = {n(amps)} A"),
            Step(
                "Capacity, closed form",
                "Ah = I·t ÷ usable",
                f"{n(amps)} A × {n(job.wants.minutes)} min ÷ 60 ÷ {n(usable, 2)} = {n(ah)} Ah",
                f"House rules “{job.rules.name}”: lands with {n(100 * rules.landing_soc, 2)} % left, by "
                f"{rules.landing_by}",
            ),
        ]
    rms, peak, honest = asked.rms_a, asked.peak_a, asked.honest_c(low_ah)
    factor = n(burst_factor(job.duty.longest_peak_s))
    steps += [
        Step(
            "Capacity, by simulation",
            "sold sizes that do it, light enough with the C asked for",
            f"{n(low_ah)} to {n(high_ah)} Ah",
            "with sag, mass and temperature",
        ),
        Step(
            "Honest C",
            f"max(I_rms ÷ Ah, I_peak ÷ {factor} ÷ Ah)",
            f"max({n(rms)} ÷ {n(low_ah)}, {n(peak)} ÷ {factor} ÷ {n(low_ah)}) = {n(honest)}",
            "a burst holds 10 s at 1.5 × continuous; a longer one is allowed its heat",
        ),
    ]
    if (label_c := asked.label_c(low_ah)) is not None:
        steps.append(
            Step(
                "C on the label",
                "what this trust takes for that much; no less than now while nobody measured the peak",
                f"{n(honest)} honest: {label_c:g}C",
                upper_first(TRUST_WORDS[job.label_trust]),
            )
        )
    label_c = asked.label_c(low_ah)
    grams = " to ".join(n(asked.mass_g(ah, label_c)) for ah in (low_ah, high_ah)) + GRAMS
    steps.append(Step("Mass", "what such packs usually weigh", grams))
    return Working("Shopping line", tuple(steps), _motion_note(job.motion))


def _motion_note(motion: Motion) -> str:
    return f"Watts go with mass to the power {motion.mass_exponent:g} ({motion.name})."


def _mah(ah: float) -> str:
    return f"{round(ah * 1000, -1):.0f}"
