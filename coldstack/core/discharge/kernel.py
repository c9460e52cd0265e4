"""One pack on its way through a duty, from its start to its named ending: plain loops in the order of
the physics.

Volts of a cell: ``OCV(charge) − I·R0(charge, T) − slow``. The slow part follows ``d(slow)/dt = (I·R1 −
slow) ÷ τ``, the temperature ``m·c·dT/dt = I²·R0 + slow² ÷ R1 − h·A·(T − T_air)``, and the current is what
the load takes at the volts it meets.

A step is part of a phase. It is taken with the charge, temperature and resistances of its middle; the slow
part, its heat and the cooling follow their exact exponentials, and the slow part's growth up to the middle
counts as resistance in the current's closed form. Its length follows from how far the volts of its middle
lie off the straight line between its ends. A step in which something happens is taken again, shorter, until
it ends there. Cycles far shorter than a step are run once for many: see `leap`.

Everything here is a plain number or an array, so that Numba compiles it (`compiling`); it runs uncompiled
as well.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from coldstack.core.cells.resistance import TEMPERATURE_B_K
from coldstack.core.discharge.compiling import compiled, inlined
from coldstack.core.units import KELVIN_AT_0_C
from coldstack.core.units import SECONDS_PER_HOUR as HOUR

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

AMPS, POWER, THROTTLE1, THROTTLE2 = 0, 1, 2, 3
"""What a phase holds: the codes of `Law`."""
RUNS = -1
REACHED_LANDING, REACHED_CUTOFF, CANNOT_DELIVER, CELL_TOO_HOT, RAN_TOO_LONG = 0, 1, 2, 3, 4
NEVER = -1.0
HOLD_S = 2.0
"""A controller stops once its threshold was held this long without a break; an alarm sounds likewise."""
TOO_HOT_C = 100.0
"""Far beyond any limit: the circuit means nothing there, so the run stops."""

FIRST_STEP_S, SHORTEST_STEP_S, LONGEST_STEP_S = 4.0, 0.05, 40.0
BEND, DRIFT = 1e-3, 0.05
"""How far the volts of a step's middle may lie off the straight line between its ends, and its resistance
change; as shares."""
REFUSED = 2.0
"""A step is taken again at so many times that."""
LONGEST_LEAP_S, LEAST_CYCLES = 60.0, 3.0
LEAP_CHANGE, LEAP_DRIFT = 0.005, 0.02
"""How much a cycle's charge and lowest volts, and the resistance, may differ from when a cycle last spoke
for others; as shares."""
COLLAPSE_STEP_S, SMALLEST_STEP_S = 1e-3, 1e-6
CLOSE_S, CLOSE_V, CLOSE_SOC, CLOSE_K = 1e-9, 1e-4, 1e-9, 1e-3
FAR = 1e9
REFERENCE_K = 25.0 + KELVIN_AT_0_C
OCV, FAST, SLOWLY = 0, 1, 2
"""Columns of the curves: resting volts, and the charge factors of R0 and R1."""


class PackRow(NamedTuple):
    """What a pack is, beside its cells.

    Volts per cell under load; ``slow_ohm`` is R1 of a cell at 25 °C and mid charge, whatever its R0;
    ``kelvin_per_w`` of one cell, ``cooling_per_s`` = h·A ÷ (m·c).
    """

    chemistry: int
    series: float
    outside_ohm: float
    landing_soc: float
    alarm_v: float
    cutoff_v: float
    air_c: float
    ocv_shift_v: float
    slow_ohm: float
    slow_s: float
    kelvin_per_w: float
    cooling_per_s: float


# columns of the table of a pack's cells, one row a group of cells alike
(COUNT, SOC_PER_AS, R25, ANCHOR_K, ANCHOR_SLOPE, ANCHOR_OHM) = range(6)
(EMF, R0, MIDDLE_R0, MIDDLE_R1, NEXT_EMF, NEXT_R0, SPENT) = range(6, 13)
SLOW_SHARE = 13
NOW, AFTER, BEGAN, RAN, SETTLES = range(14, 29, 3)
"""Where a state begins in the table: its three rows are the charge, the slow volts and the temperature."""
SOC, SLOW, WARM = range(3)
ROWS = 29


class Duty(NamedTuple):
    """The phases of a cycle, shape (K,): the law of each and its seconds; the limits of a run and of a step.
    [s]"""

    laws: Ints
    durations_s: Floats
    longest_run_s: float
    longest_step_s: float


class Room(NamedTuple):
    """What one thread works in: the table of a pack's cells, shape (G, ROWS), and for each phase its last
    step with what follows from it, shape (K, 4)."""

    cells: Floats
    fades: Floats


class Found(NamedTuple):
    """What became of N packs: figures, shape (N, 13), endings, and the trace, shape (N, M, 5), of which so
    many rows are filled. M may be zero."""

    figures: Floats
    endings: Ints
    trace: Floats
    filled: Ints


@inlined
def current_a(law: int, load: float, emf_v: float, ohm: float) -> float:
    """Current that a load takes from volts behind a resistance; below zero if the source cannot give it. [A]

    Amps: the load. Power: the smaller root of ``(E − I·R)·I = P``. Throttle: ``I = a·V^k`` with ``V = E −
    I·R``.
    """
    amps = NEVER
    if law == AMPS:
        if emf_v > load * ohm:
            amps = load
    elif law == POWER:
        under_root = emf_v * emf_v - 4.0 * ohm * load
        if under_root >= 0.0 and emf_v > 0.0:
            # 2P ÷ (E + √…) is the same root, and stays exact when R goes to zero
            amps = 2.0 * load / (emf_v + math.sqrt(under_root))
    elif emf_v > 0.0:
        if law == THROTTLE1:
            amps = load * emf_v / (1.0 + load * ohm)
        else:
            volts = 2.0 * emf_v / (1.0 + math.sqrt(1.0 + 4.0 * load * ohm * emf_v))
            amps = load * volts * volts
    return amps


@inlined
def at_charge(curves: Floats, chemistry: int, column: int, soc: float) -> float:
    """A curve at a state of charge, straight between its points and level beyond its ends."""
    last = curves.shape[1] - 1
    at = min(max(soc, 0.0), 1.0) * last
    j = min(int(at), last - 1)
    below = curves[chemistry, j, column]
    return float(below + (at - j) * (curves[chemistry, j + 1, column] - below))


@inlined
def warm_ohm(c: Floats, g: int, warm_c: float) -> float:
    """R0 at mid charge and a temperature, ``R25·exp(B·(1/T − 1/298 K))``: by its series about a temperature
    not far off. [Ω]"""
    warmer = warm_c + KELVIN_AT_0_C - c[g, ANCHOR_K]
    slope = c[g, ANCHOR_SLOPE]
    x = -slope * warmer * (1.0 - slope * warmer * c[g, ANCHOR_K] * (1.0 / TEMPERATURE_B_K))
    if abs(x) > 0.15:
        x = 0.0
        kelvin = warm_c + KELVIN_AT_0_C
        c[g, ANCHOR_K], c[g, ANCHOR_SLOPE] = kelvin, TEMPERATURE_B_K / (kelvin * kelvin)
        c[g, ANCHOR_OHM] = c[g, R25] * math.exp(TEMPERATURE_B_K * (1.0 / kelvin - 1.0 / REFERENCE_K))
    return float(c[g, ANCHOR_OHM] * (1.0 + x * (1.0 + x * (0.5 + x * (1.0 / 6.0 + x * (1.0 / 24.0))))))


@inlined
def source_at_once(
    pack: PackRow, c: Floats, curves: Floats, at: int, emf_row: int, r0_row: int
) -> tuple[float, float]:
    """The pack's volts without a current, the slow part as it is, and its resistance; each group's into the
    arrays. [V], [Ω]"""
    emf, ohm = 0.0, pack.outside_ohm
    for g in range(c.shape[0]):
        soc = c[g, at + SOC]
        c[g, emf_row] = at_charge(curves, pack.chemistry, OCV, soc) + pack.ocv_shift_v - c[g, at + SLOW]
        c[g, r0_row] = at_charge(curves, pack.chemistry, FAST, soc) * warm_ohm(c, g, c[g, at + WARM])
        emf += c[g, COUNT] * c[g, emf_row]
        ohm += c[g, COUNT] * c[g, r0_row]
    return emf, ohm


@inlined
def source_in_middle(
    pack: PackRow, c: Floats, curves: Floats, amps: float, half_s: float, keep: float
) -> tuple[float, float]:
    """The same for the middle of a step: the slow part's growth up to there, ``R1·(1 − keep)``, counts as
    resistance. [V], [Ω]"""
    emf, ohm = 0.0, pack.outside_ohm
    for g in range(c.shape[0]):
        watts = amps * amps * c[g, R0] + c[g, NOW + SLOW] * c[g, NOW + SLOW] / c[g, MIDDLE_R1]
        warming = (watts * pack.kelvin_per_w + pack.air_c - c[g, NOW + WARM]) * pack.cooling_per_s
        soc = c[g, NOW + SOC] - half_s * amps * c[g, SOC_PER_AS]
        r = warm_ohm(c, g, c[g, NOW + WARM] + half_s * warming)
        r0 = at_charge(curves, pack.chemistry, FAST, soc) * r
        r1 = at_charge(curves, pack.chemistry, SLOWLY, soc) * r * c[g, SLOW_SHARE]
        emf += c[g, COUNT] * (
            at_charge(curves, pack.chemistry, OCV, soc) + pack.ocv_shift_v - c[g, NOW + SLOW] * keep
        )
        ohm += c[g, COUNT] * (r0 + r1 * (1.0 - keep))
        c[g, MIDDLE_R0], c[g, MIDDLE_R1] = r0, r1
    return emf, ohm


@inlined
def through_step(
    pack: PackRow, c: Floats, amps: float, step_s: float, per_s: float, keep: float, cool: float
) -> float:
    """The state after a step at its middle's current, into ``after``; the heat of all cells. [J]

    With s = I·R1 and g the gap to it at the start, the slow part's heat is ``∫(s + g·e^(−t/τ))² dt ÷ R1``.
    """
    fade, tau, heat = keep * keep, pack.slow_s, 0.0
    for g in range(c.shape[0]):
        r0, r1 = c[g, MIDDLE_R0], c[g, MIDDLE_R1]
        gap = c[g, NOW + SLOW] - amps * r1
        heat_g = amps * amps * (r0 + r1) * step_s
        heat_g += gap * tau * (2.0 * amps * (1.0 - fade) + gap / r1 * 0.5 * (1.0 - fade * fade))
        settles_c = pack.air_c + heat_g * per_s * pack.kelvin_per_w
        c[g, AFTER + SOC] = c[g, NOW + SOC] - amps * step_s * c[g, SOC_PER_AS]
        c[g, AFTER + SLOW] = amps * r1 + gap * fade
        c[g, AFTER + WARM] = settles_c + (c[g, NOW + WARM] - settles_c) * cool
        heat += c[g, COUNT] * heat_g
    return heat


@inlined
def lowest_cell_v(c: Floats, emf_row: int, r0_row: int, amps: float, outside_v: float) -> float:
    """Loaded volts of the lowest cell, its part of what leads and plug take included. [V]"""
    low = FAR
    for g in range(c.shape[0]):
        low = min(low, c[g, emf_row] - amps * c[g, r0_row])
    return low - outside_v


@inlined
def lowest(c: Floats, row: int) -> float:
    """The least of a row."""
    low = float(c[0, row])
    for g in range(1, c.shape[0]):
        low = min(low, c[g, row])
    return low


@inlined
def highest(c: Floats, row: int) -> float:
    """The largest of a row."""
    high = float(c[0, row])
    for g in range(1, c.shape[0]):
        high = max(high, c[g, row])
    return high


@inlined
def passed_at(before: float, limit: float, after: float, close: float) -> float:
    """The share of a step after which a falling figure meets a limit, by a straight line; 1 if it does not
    pass it."""
    share = 1.0
    if after < limit - close and before > limit:
        share = (before - limit) / (before - after)
    return share


@inlined
def copy_state(c: Floats, at: int, to: int) -> None:
    """The state of all groups from one place in the table to another."""
    for g in range(c.shape[0]):
        c[g, to + SOC], c[g, to + SLOW], c[g, to + WARM] = c[g, at + SOC], c[g, at + SLOW], c[g, at + WARM]


@inlined
def to_middle(c: Floats, cycles: float, fade: float, cool: float) -> None:
    """Take the state to where the middle one of so many cycles begins, by what the cycle before has shown."""
    n = 0.5 * (cycles - 1.0)
    for g in range(c.shape[0]):
        c[g, NOW + SOC] -= n * c[g, SPENT]
        c[g, NOW + SLOW] = c[g, SETTLES + SLOW] + (c[g, NOW + SLOW] - c[g, SETTLES + SLOW]) * fade**n
        c[g, NOW + WARM] = c[g, SETTLES + WARM] + (c[g, NOW + WARM] - c[g, SETTLES + WARM]) * cool**n


@inlined
def leap(c: Floats, cycles: float, fade: float, cool: float) -> None:
    """The state after so many cycles of which one, from ``ran`` to ``state``, was run; they began at
    ``began``.

    A cycle takes the slow part from x to ``F·x + c`` with F = e^(−cycle/τ): so it settles at ``(x' − F·x) ÷
    (1 − F)``, and after N cycles it stands at ``settles + (x_0 − settles)·F^N``. The temperature likewise;
    the charge falls by N times as much.
    """
    for g in range(c.shape[0]):
        c[g, SPENT] = c[g, RAN + SOC] - c[g, NOW + SOC]
        c[g, SETTLES + SLOW] = (c[g, NOW + SLOW] - fade * c[g, RAN + SLOW]) / (1.0 - fade)
        c[g, SETTLES + WARM] = (c[g, NOW + WARM] - cool * c[g, RAN + WARM]) / (1.0 - cool)
        if cycles > 1.0:
            c[g, NOW + SOC] = c[g, BEGAN + SOC] - cycles * c[g, SPENT]
            c[g, NOW + SLOW] = (
                c[g, SETTLES + SLOW] + (c[g, BEGAN + SLOW] - c[g, SETTLES + SLOW]) * fade**cycles
            )
            c[g, NOW + WARM] = (
                c[g, SETTLES + WARM] + (c[g, BEGAN + WARM] - c[g, SETTLES + WARM]) * cool**cycles
            )


@inlined
def cycles_at_once(
    pack: PackRow,
    c: Floats,
    cycle_s: float,
    leap_s: float,
    dip_v: float,
    top_v: float,
    margin_v: float,
    alarm_s: float,
) -> float:
    """How many cycles may be run as one: nothing may happen within them, and no threshold be held for long.
    At least 1."""
    n = float(math.floor(leap_s / cycle_s))
    for g in range(c.shape[0]):
        n = min(n, math.floor((c[g, NOW + SOC] - pack.landing_soc) / max(c[g, SPENT], CLOSE_SOC)) - 2.0)
    # a threshold is far off, or touched by dips so short that they are never held
    brief = top_v - margin_v if cycle_s < HOLD_S else dip_v - margin_v
    if brief <= pack.cutoff_v or (alarm_s < 0.0 and brief <= pack.alarm_v):
        n = 1.0
    # one that is held now, or nearly, is watched cycle by cycle
    if abs(dip_v - pack.cutoff_v) <= margin_v or abs(dip_v - pack.alarm_v) <= margin_v:
        n = 1.0
    return n if n >= 2.0 and highest(c, NOW + WARM) < TOO_HOT_C - 10.0 else 1.0


@inlined
def since_below(since: float, now: float, volts: float, limit_v: float) -> float:
    """Since when volts are at or below a limit without a break; NEVER while they are above it. [s]"""
    if volts > limit_v + CLOSE_V:
        since = NEVER
    elif since < 0.0:
        since = now
    return since


@compiled
def run_pack(
    pack: PackRow,
    c: Floats,
    fades: Floats,
    curves: Floats,
    duty: Duty,
    loads: Floats,
    out: Floats,
    trace: Floats,
) -> tuple[int, int]:
    """Run a pack, its cells in the table ``c``, through the cycle again and again; its ending, and its
    figures in ``out``.

    ``trace``, shape (M, 5), takes time, volts, amps, lowest charge and highest temperature at each end of a
    step; also gives how many of its rows were filled.
    """
    now = charge_as = square = energy = heat = peak = 0.0
    low_v, alarm_s, below_s, sounding_s = FAR, NEVER, NEVER, NEVER
    step_s = FIRST_STEP_S
    fades[:, 0] = NEVER
    cycle_s = duty.durations_s.sum()
    short = LEAST_CYCLES * cycle_s <= LONGEST_LEAP_S
    cycle_fade, cycle_cool = math.exp(-cycle_s / pack.slow_s), math.exp(-cycle_s * pack.cooling_per_s)
    times, leap_s, dip_before, spent_before, ohm_before = 1.0, cycle_s, FAR, 1.0, 1.0
    top_before = FAR
    outside_cell_ohm = pack.outside_ohm / pack.series
    cutoff_v, filled, amps, volts, cell_v = pack.cutoff_v * pack.series, 0, 0.0, FAR, FAR
    dip_v, top_v = FAR, -FAR
    emf = ohm = 0.0
    soc, warm_c, moved = lowest(c, NOW + SOC), highest(c, NOW + WARM), True
    ending = REACHED_LANDING if soc <= pack.landing_soc + CLOSE_SOC else RUNS
    while ending == RUNS:
        cycle_began_s, alarm_before = now, alarm_s
        kept = (charge_as, square, energy, heat, peak, low_v, filled)
        if short:
            times = 1.0
            if dip_before < FAR and now + leap_s < duty.longest_run_s:
                margin = 3.0 * max(dip_before - dip_v, top_before - top_v, 0.0) + 0.003
                times = cycles_at_once(pack, c, cycle_s, leap_s, dip_v, top_v, margin, alarm_s)
            dip_before, top_before, spent_before, ohm_before = dip_v, top_v, c[0, SPENT], ohm
            dip_v, top_v = FAR, -FAR
            copy_state(c, NOW, BEGAN)
            if times > 1.0:
                to_middle(c, times, cycle_fade, cycle_cool)
                moved = True
                now += 0.5 * (times - 1.0) * cycle_s
                below_s = sounding_s = NEVER
            copy_state(c, NOW, RAN)
        if moved:
            # the pack stands elsewhere than where a step ended
            moved = False
            emf, ohm = source_at_once(pack, c, curves, NOW, EMF, R0)
            soc, warm_c = lowest(c, NOW + SOC), highest(c, NOW + WARM)
        for k in range(len(duty.laws)):
            law, load, left_s = duty.laws[k], loads[k], duty.durations_s[k]
            amps = current_a(law, load, emf, ohm)
            ending = RUNS if amps >= 0.0 else CANNOT_DELIVER
            if ending == RUNS:
                volts, cell_v = emf - amps * ohm, lowest_cell_v(c, EMF, R0, amps, amps * outside_cell_ohm)
            while ending == RUNS:
                # what this instant means: the first of the phase, or the end of a step
                peak, low_v = max(peak, amps), min(low_v, volts)
                dip_v, top_v = min(dip_v, cell_v), max(top_v, cell_v)
                below_s = since_below(below_s, now, volts, cutoff_v)
                if alarm_s < 0.0:
                    sounding_s = since_below(sounding_s, now, cell_v, pack.alarm_v)
                    if sounding_s >= 0.0 and now >= sounding_s + HOLD_S - CLOSE_S:
                        alarm_s = now
                if filled < len(trace):
                    row = trace[filled]
                    row[0], row[1], row[2], row[3], row[4] = now, volts, amps, soc, warm_c
                    filled += 1
                if soc <= pack.landing_soc + CLOSE_SOC:
                    ending = REACHED_LANDING
                elif below_s >= 0.0 and now >= below_s + HOLD_S - CLOSE_S:
                    ending = REACHED_CUTOFF
                elif warm_c >= TOO_HOT_C - CLOSE_K:
                    ending = CELL_TOO_HOT
                elif now >= duty.longest_run_s - CLOSE_S:
                    ending = RAN_TOO_LONG
                if ending != RUNS or left_s <= CLOSE_S:
                    break
                # an equal part of the rest, but not past the end of a hold
                usual_s = min(step_s, duty.longest_step_s)
                usual_s = left_s if left_s <= usual_s else left_s / math.ceil(left_s / usual_s - CLOSE_S)
                dt = min(usual_s, duty.longest_run_s - now)
                if below_s >= 0.0:
                    dt = min(dt, below_s + HOLD_S - now)
                if sounding_s >= 0.0 and alarm_s < 0.0:
                    dt = min(dt, sounding_s + HOLD_S - now)
                dt, step_amps, heat_j, next_amps = max(dt, SMALLEST_STEP_S), 0.0, 0.0, 0.0
                middle_v = next_emf = next_ohm = next_v = next_cell_v = next_soc = next_c = 0.0
                trying = True
                while trying:
                    if dt != fades[k, 0]:
                        fades[k, 0], fades[k, 1] = dt, 1.0 / dt
                        fades[k, 2] = math.exp(-0.5 * dt / pack.slow_s)
                        fades[k, 3] = math.exp(-dt * pack.cooling_per_s)
                    per_s, keep, cool = fades[k, 1], fades[k, 2], fades[k, 3]
                    middle_emf, middle_ohm = source_in_middle(pack, c, curves, amps, 0.5 * dt, keep)
                    step_amps = current_a(law, load, middle_emf, middle_ohm)
                    if step_amps >= 0.0:
                        middle_v = middle_emf - step_amps * middle_ohm
                        heat_j = through_step(pack, c, step_amps, dt, per_s, keep, cool)
                        next_emf, next_ohm = source_at_once(pack, c, curves, AFTER, NEXT_EMF, NEXT_R0)
                        next_amps = current_a(law, load, next_emf, next_ohm)
                    if step_amps < 0.0 or next_amps < 0.0:
                        # somewhere in this step the pack cannot give what is asked of it
                        if dt <= COLLAPSE_STEP_S:
                            ending = CANNOT_DELIVER
                            break
                        dt, next_amps = 0.5 * dt, 0.0
                        continue
                    next_v = next_emf - next_amps * next_ohm
                    next_cell_v = lowest_cell_v(c, NEXT_EMF, NEXT_R0, next_amps, next_amps * outside_cell_ohm)
                    next_soc, next_c = lowest(c, AFTER + SOC), highest(c, AFTER + WARM)
                    share = passed_at(soc, pack.landing_soc, next_soc, CLOSE_SOC)
                    share = min(share, passed_at(-warm_c, -TOO_HOT_C, -next_c, CLOSE_K))
                    if below_s < 0.0:
                        share = min(share, passed_at(volts, cutoff_v, next_v, CLOSE_V))
                    if alarm_s < 0.0 and sounding_s < 0.0:
                        share = min(share, passed_at(cell_v, pack.alarm_v, next_cell_v, CLOSE_V))
                    bend = abs(middle_v - 0.5 * (volts + next_v)) / (BEND * middle_v)
                    drift = (next_ohm - ohm) / (DRIFT * ohm)
                    bend = max(bend, drift * drift)
                    if share < 1.0 and dt > SMALLEST_STEP_S:
                        dt = max(dt * share, SMALLEST_STEP_S)
                    elif bend > REFUSED and dt > SHORTEST_STEP_S:
                        dt = max(0.5 * dt, SHORTEST_STEP_S)
                        step_s = dt
                    else:
                        trying = False
                        if dt == usual_s and (bend > 1.0 or dt > 0.45 * step_s):
                            step_s = dt * min(max(math.sqrt(1.0 / (bend + 1e-9)), 0.5), 2.0)
                            step_s = min(max(step_s, SHORTEST_STEP_S), LONGEST_STEP_S)
                if ending != RUNS:
                    break
                now, left_s = now + dt, left_s - dt
                charge_as += times * step_amps * dt
                square += times * step_amps * step_amps * dt
                six_watts = amps * volts + 4.0 * step_amps * middle_v + next_amps * next_v
                energy += times * dt * six_watts * (1.0 / 6.0)
                heat += times * (heat_j + step_amps * step_amps * pack.outside_ohm * dt)
                emf, ohm, amps, volts, cell_v = next_emf, next_ohm, next_amps, next_v, next_cell_v
                soc, warm_c = next_soc, next_c
                copy_state(c, AFTER, NOW)
                for g in range(c.shape[0]):
                    c[g, EMF], c[g, R0] = c[g, NEXT_EMF], c[g, NEXT_R0]
            if ending != RUNS:
                break
        if times > 1.0 and (ending != RUNS or alarm_s != alarm_before):
            # something happened after all: back to where these cycles began, to run them one by one
            charge_as, square, energy, heat, peak, low_v, filled = kept
            copy_state(c, BEGAN, NOW)
            now, ending, alarm_s, below_s, sounding_s = cycle_began_s, RUNS, alarm_before, NEVER, NEVER
            dip_v, leap_s, moved = FAR, cycle_s, True
        elif short and ending == RUNS:
            leap(c, times, cycle_fade, cycle_cool)
            if times > 1.0:
                now = cycle_began_s + times * cycle_s
                below_s = sounding_s = NEVER
                moved = True
            if dip_before < FAR:
                charge_change = abs(c[0, SPENT] - spent_before) / max(spent_before, CLOSE_SOC)
                change = max(charge_change, abs(dip_v / dip_before - 1.0)) / LEAP_CHANGE
                change = max(change, abs(ohm / ohm_before - 1.0) / LEAP_DRIFT) + 1e-9
                leap_s = min(times * cycle_s * min(max(1.0 / change, 0.5), 2.0), LONGEST_LEAP_S)
    ran_s, drew = max(now, SMALLEST_STEP_S), max(charge_as, SMALLEST_STEP_S)
    out[0], out[1], out[2] = now, charge_as / HOUR, lowest(c, NOW + SOC)
    out[3], out[4], out[5] = charge_as / ran_s, math.sqrt(square / ran_s), peak
    out[6], out[7] = (low_v if low_v < FAR else 0.0), energy / drew
    out[8], out[9], out[10] = (volts if volts < FAR else 0.0), energy / HOUR, heat / HOUR
    out[11], out[12] = highest(c, NOW + WARM), alarm_s
    return ending, filled


@compiled
def run_packs(
    first: int,
    last: int,
    packs: Floats,
    groups: Floats,
    loads: Floats,
    duty: Duty,
    curves: Floats,
    room: Room,
    found: Found,
) -> None:
    """Packs ``first`` to ``last`` one after the other, into ``found``; rows of ``packs`` are `PackRow`, of
    ``groups`` (N, G, 6) the count, As, Ω and state, of ``loads`` a load a phase."""
    c = room.cells
    for i in range(first, last):
        p = packs[i]
        n = groups.shape[1]
        while n > 1 and groups[i, n - 1, 0] == 0:  # groups of none fill the row
            n -= 1
        pack = PackRow(int(p[0]), p[1], p[2], p[3], p[4], p[5], p[6], p[7], p[8], p[9], p[10], p[11])
        for g in range(n):
            c[g, COUNT], c[g, SOC_PER_AS], c[g, R25] = groups[i, g, 0], 1.0 / groups[i, g, 1], groups[i, g, 2]
            c[g, SLOW_SHARE] = pack.slow_ohm / groups[i, g, 2]
            for j in range(3):
                c[g, NOW + j] = groups[i, g, 3 + j]
            c[g, ANCHOR_K], c[g, ANCHOR_SLOPE] = REFERENCE_K, TEMPERATURE_B_K / REFERENCE_K**2
            c[g, ANCHOR_OHM] = c[g, MIDDLE_R1] = c[g, R25]
        found.endings[i], found.filled[i] = run_pack(
            pack, c[:n], room.fades, curves, duty, loads[i], found.figures[i], found.trace[i]
        )
