"""A charge as it was set, seen through cell by cell: by the same cells as the simulated charger has.

A charger is taken to do as it is told, whatever hangs on it: many do. What an overcharged cell does besides
rise (gas, heat, fire) no model of ours tells; from which volts on to expect it is a house figure, by what is
published of such cells, which differ.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from coldstack.core.cells.chemistry import CHEMISTRY_IDS, chemistry
from coldstack.core.charging.amps import OF_TODAY, label_charge_c, pack_limit
from coldstack.core.charging.charge_time import TAPER_END_C
from coldstack.core.charging.charger import Charger
from coldstack.core.charging.unequal_cells import (
    BALANCE_BAND_V,
    ChargingCells,
    UnequalCells,
    allowed_current,
    bleeding,
)
from coldstack.core.charging.warming import ChargingBody, charging_rise_k, pack_area_m2
from coldstack.core.packs.pack import Pack
from coldstack.core.packs.resistance import cell_resistance
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.task import Happening, Ran, RanLine
from coldstack.core.readings.tolerance import over_full_for
from coldstack.core.rules.house_rules import HouseRules, for_chemistry
from coldstack.core.units import WARMER, about_number, lower_first, plain_number
from coldstack.core.wear.cycles import Habit, cycles_to_80

Floats = NDArray[np.float64]

GAS_OVER_V, BURNS_OVER_V = 0.3, 0.8
"""So far over full a lithium cell makes gas, and may burn at any moment. House figures. [V]"""
BURNS_TIMES = 1.5
"""So many times what a pack may have it is driven into danger: the decimal point moved, the amps of another
pack; what is less wears it. House figure."""
STEP_S, SAMPLES = 4.0, 90
LONGEST_S = 12 * 3600.0

CELLS_HOLD, CELLS_AT = 0.012, 0.012
"""Cells of a sound pack hold and begin so much apart, as a share and in charge. House figures."""
ROOM_C = 20.0


@dataclass(frozen=True, slots=True)
class SetTo:
    """What a charger was set to: the chemistry of its program, cells, amps, and the volts of a cell at which
    it ends, infinite for a program that waits for a peak. [A], [V]"""

    chemistry: str
    series: int
    current_a: float
    end_cell_v: float


def set_to(pack: Pack, program: str, series: int, current_a: float, rules: HouseRules) -> SetTo:
    """What a program does: that of the pack's own chemistry ends by the house rules, another one as it comes
    from the maker."""
    end_v = chemistry(program).full_v
    if program == pack.chemistry:
        end_v = for_chemistry(rules, program).full_v
    if chemistry(program).charge_method == "peak":
        end_v = math.inf
    return SetTo(program, series, current_a, end_v)


@dataclass(frozen=True, slots=True)
class MayHave:
    """The most amps of a pack, whatever the house rules say, and by what. [A]"""

    current_a: float
    by: str


def may_have(pack: Pack, rules: HouseRules) -> MayHave:
    """By its label, by what is usual where that says nothing, or by how it is today."""
    own = pack_limit(pack, rules)
    if own.id in OF_TODAY:
        return MayHave(own.current_a, f"({lower_first(own.name)})")
    by = "by its label" if pack.charge_c is not None else "by what is usual where the label says nothing"
    return MayHave(label_charge_c(pack) * pack.capacity_ah, by)


def simulates(pack: Pack, to: SetTo) -> bool:
    """Whether such a charge can be seen through: of lithium cells, that the charger begins at all."""
    if chemistry(pack.chemistry).charge_method != "cc_cv" or to.current_a <= 0 or to.series < 1:
        return False
    return to.series >= pack.series


def charged_so(pack: Pack, charger: Charger, to: SetTo, rules: HouseRules, seed: int) -> Ran | None:
    """The charge from its landing point to the end, or to the volts at which it may burn; None where it
    cannot be seen through. With the right count of cells its balancer works."""
    if not simulates(pack, to):
        return None
    samples = list(_flows(ChargingCells(_cells(pack, rules, seed)), pack, charger, to))
    time_s = tuple(s.time_s for s in samples)
    volts = np.array([s.cell_v for s in samples])
    moments = (*_too_many_amps(pack, samples, rules), *_moments(pack, samples))
    keep = _thinned(len(samples), [time_s.index(m.time_s) for m in moments])
    full_v = chemistry(pack.chemistry).full_v
    lines = tuple(
        RanLine(f"cell {k + 1}", tuple(round(float(v), 4) for v in volts[keep, k]), full_v)
        for k in range(pack.series)
    )
    name = chemistry(to.chemistry).name
    title = f"Set to {name}, {to.series} cell{'s' * (to.series > 1)}, {plain_number(to.current_a)} A"
    return Ran(
        title,
        "V",
        tuple(time_s[k] for k in keep),
        lines,
        moments,
        _costs(pack, samples),
    )


@dataclass(frozen=True, slots=True)
class _Sample:
    time_s: float
    cell_v: tuple[float, ...]
    current_a: float


def _cells(pack: Pack, rules: HouseRules, seed: int) -> UnequalCells:
    """The cells of a pack as it landed, a little apart."""
    by, n = Chance("cells", seed), pack.series
    holds = np.array([by.between(-CELLS_HOLD, CELLS_HOLD) for _ in range(n)])
    at = np.array([by.between(-CELLS_AT, CELLS_AT) for _ in range(n)])
    landed = for_chemistry(rules, pack.chemistry).landing_soc
    return UnequalCells(
        pack.chemistry,
        pack.held_ah * (1 + holds),
        np.full(n, cell_resistance(pack).value),
        np.clip(landed + at, 0.02, 1.0),
    )


def _flows(cells: ChargingCells, pack: Pack, charger: Charger, to: SetTo) -> Iterator[_Sample]:
    """What the charger reads, step by step."""
    balanced = to.series == pack.series and pack.series > 1 and math.isfinite(to.end_cell_v)
    end_cell_v = to.end_cell_v * to.series / pack.series
    end_a = min(TAPER_END_C * pack.held_ah, to.current_a)
    burns_v = chemistry(pack.chemistry).full_v + BURNS_OVER_V
    for k in range(int(LONGEST_S / STEP_S)):
        watts_a = min(charger.port_w, charger.total_w(charger.inputs[0])) / float(cells.emf().sum())
        most_a = min(to.current_a, charger.port_a, watts_a)
        now = most_a
        if math.isfinite(end_cell_v):
            now = allowed_current(cells, most_a, end_cell_v, "balance" if balanced else "plain")
        volts = cells.volts(now)
        yield _Sample(k * STEP_S, tuple(volts.tolist()), now)
        even = not balanced or float(volts.max() - volts.min()) <= BALANCE_BAND_V
        if volts.max() >= burns_v or (k and now <= end_a * (1 + 1e-9) and even):
            return
        bleed = bleeding(volts, charger.balance_a) if balanced else np.zeros(pack.series)
        cells.step(now, bleed, STEP_S)


@dataclass(frozen=True, slots=True)
class _Event:
    """What happens to a cell so far over full (None: as soon as the watch tells): its mark, and in words."""

    over_v: float | None
    mark: str
    words: str

    def has_come(self, full_v: float, volts: float) -> bool:
        """Whether a cell at these volts is so far."""
        if self.over_v is None:
            return over_full_for(full_v, volts)
        at_v = full_v + self.over_v
        return volts >= at_v


_GAS = _Event(
    GAS_OVER_V,
    "swells",
    "At {volts:.2f} V the electrolyte of cell {cell} breaks down: it makes gas and swells.",
)
_EVENTS = (
    _Event(
        None,
        "over full",
        "Cell {cell} passes its full volts. Watched here, the charge is stopped now, at {volts:.2f} V.",
    ),
    _GAS,
    _Event(
        BURNS_OVER_V,
        "may burn",
        "At {volts:.2f} V cell {cell} may burn at any moment, and nobody can stop it any more.",
    ),
)


def _moments(pack: Pack, samples: list[_Sample]) -> Iterator[Happening]:
    """What happens, in its order: an overcharge by the limit of the watch, gas, fire; or that it is full."""
    full_v = chemistry(pack.chemistry).full_v
    over = False
    for event in _EVENTS:
        found = next((s for s in samples if event.has_come(full_v, max(s.cell_v))), None)
        if found is not None:
            highest, over = max(found.cell_v), True
            which = found.cell_v.index(highest) + 1
            words = event.words.format(cell=which, volts=highest)
            yield Happening(found.time_s, "dangerous", words, which, event.mark)
    if not over:
        highest, lowest = max(samples[-1].cell_v), min(samples[-1].cell_v)
        what = "It still goes on" if _goes_on(samples) else "It ends"
        words = f"{what}: the fullest cell at {highest:.2f} V, the emptiest at {lowest:.2f} V."
        yield Happening(samples[-1].time_s, "right", words)


def _goes_on(samples: list[_Sample]) -> bool:
    """Whether it was not over when nobody looked any longer."""
    return samples[-1].time_s >= LONGEST_S - 2 * STEP_S


def _too_many_amps(pack: Pack, samples: list[_Sample], rules: HouseRules) -> Iterator[Happening]:
    """Amps that no cell of it may have: what that does inside no model of ours tells, so that it is said."""
    flows_a, most = max(s.current_a for s in samples), may_have(pack, rules)
    if flows_a > BURNS_TIMES * most.current_a:
        n = plain_number
        warmer = f"{_warms_k(pack, flows_a, samples):.0f}{WARMER}"
        warms = f"it warms by {warmer}, and lithium plates out inside"
        words = f"{n(flows_a)} A flow where {n(most.current_a)} A may: {warms}. It may swell and burn."
        yield Happening(samples[0].time_s, "dangerous", words)


def _thinned(count: int, kept: list[int]) -> list[int]:
    """So many of the samples, evenly, the last, and those in which something happens."""
    stride = max(1, math.ceil(count / SAMPLES))
    return sorted({*range(0, count, stride), count - 1, *kept})


def _costs(pack: Pack, samples: list[_Sample]) -> str:
    """What it costs: the pack, or some of its cycles; or which margin it has."""
    cell, highest = chemistry(pack.chemistry), max(max(s.cell_v) for s in samples)
    priced = "" if pack.price is None else f" (price {plain_number(pack.price, 4)})"
    if _GAS.has_come(cell.full_v, highest):
        return f"It costs the pack{priced}, and what lies around it where it burns."
    if over_full_for(cell.full_v, highest):
        words = f"Charged once to {highest:.2f} V a cell it is worn, and each time nearer to burning"
        return f"{words}. Stopped in time it costs nothing."
    flowed_a = max(s.current_a for s in samples)
    minutes, rate = samples[-1].time_s / 60, flowed_a / pack.held_ah
    cycles = float(cycles_to_80([CHEMISTRY_IDS.index(cell.id)], Habit(charge_c=rate)).middle[0])
    warms = _warms_k(pack, flowed_a, samples)
    margin = cell.full_v - highest
    left = f"{1000 * margin:.0f} mV below full" if margin > 0.0005 else "at full, and not above"
    takes = f"{'more than ' * _goes_on(samples)}{minutes:.0f} min"
    warmer = f"{warms:.0f}{WARMER}"
    return (
        f"It takes {takes} and stays {left}; it warms by {warmer} at most. Charged at "
        f"{plain_number(rate)}C each time such a pack is good for about {about_number(cycles)} cycles."
    )


def _warms_k(pack: Pack, current_a: float, samples: list[_Sample]) -> float:
    body = ChargingBody.of(
        pack.chemistry,
        pack.series,
        pack.held_ah,
        cell_mohm=cell_resistance(pack).value,
        mass_g=pack.mass_g,
        area_m2=pack_area_m2(pack),
    )
    seconds = sum(STEP_S for s in samples if s.current_a >= 0.9 * current_a)
    return charging_rise_k(body, current_a, seconds, start_c=ROOM_C, air_c=ROOM_C).high_k


def over_its_limits(pack: Pack, to: SetTo) -> bool:
    """Whether a charge so drives a cell over full, by the volts at which it ends alone: what seeing it
    through shows. Never of NiMH, which goes by its peak."""
    full_v, end_cell_v = chemistry(pack.chemistry).full_v, to.end_cell_v * to.series / pack.series
    return chemistry(pack.chemistry).charge_method == "cc_cv" and over_full_for(full_v, end_cell_v)
