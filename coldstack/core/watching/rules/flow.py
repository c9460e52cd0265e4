"""Rules of the watch about what flows: what was set against what is read, amps against mAh against volts."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import pairwise

from coldstack.core.units import plain_number
from coldstack.core.watching.alarm import Alarm
from coldstack.core.watching.heard import Heard
from coldstack.core.watching.rules.volts import rise_due_v
from coldstack.core.watching.samples import Sample, holds

OVER_SHARE, OVER_A = 1.1, 0.05
"""An ammeter may read so much too high, as a share of what was set and in amps. House figures."""
FAR_OVER = 1.5
"""So many times what was set is told by one reading alone. House figure."""
OUT_SHARE, OUT_A, FAR_OUT = 0.02, 0.1, 0.5
"""A current out of the pack that an ammeter's zero may feign; as a share of what was set, one reading alone
tells. House figures."""
COUNTED_OVER_S = (60.0, 120.0, 300.0, 600.0)
"""mAh are held against amps over these times: the shorter tell much at once, the longer a little."""
COUNTED_SHARE, COUNTED_MAH, COARSE_MAH = 0.4, 2.0, 10.0
"""mAh and amps may differ by so much, as a share of the greater and in mAh; by a step more where a counter
shows tens. House figures."""
STUCK_STEPS, ALIKE = 3.0, 6
"""Volts that stand still where they must have risen by so many steps of the meter are stuck; so many readings
alike are no chance, even of a meter that jumps by a step. House figure."""
STEADY, STEADY_HELD, HELD_AT_V = 0.95, 0.995, 0.03
"""At this part of its current it still flows steadily; near its full volts only at this."""
COARSE_V, FINE_V = 0.01, 0.001
"""Steps of a meter that shows two digits, and of one that shows three. [V]"""


def over_current(h: Heard) -> Iterator[Alarm]:
    """More amps than were set."""
    set_a = h.expected.current_a
    far = next((x for x in h.fresh if (x.current_a or 0.0) > FAR_OVER * set_a + OVER_A), None)
    found = far or (h.last if holds(h.window, lambda s: s.current_a > OVER_SHARE * set_a + OVER_A) else None)
    if found is not None and found.current_a is not None:
        n = plain_number
        words = f"{n(found.current_a)} A flow, where {n(set_a)} A were set. The charger does what it likes."
        yield Alarm("over_current", "stop", found.time_s, words)


def wrong_way(h: Heard) -> Iterator[Alarm]:
    """Current out of the pack, in a charge."""
    set_a = h.expected.current_a
    least_a = OUT_SHARE * set_a + OUT_A
    far = next((x for x in h.fresh if -(x.current_a or 0.0) > max(FAR_OUT * set_a, least_a)), None)
    found = far or (h.last if holds(h.window, lambda s: -s.current_a > least_a) else None)
    if found is not None and found.current_a is not None:
        words = f"{plain_number(-found.current_a)} A flow out of the pack in a charge: it is being emptied."
        yield Alarm("wrong_way", "stop", found.time_s, words)


def counted(h: Heard) -> Iterator[Alarm]:
    """mAh that do not follow the amps: the cut-off would guard nothing."""
    for seconds in COUNTED_OVER_S:
        part = h.since(seconds + 0.5)
        if len(part) < 3 or part[-1].time_s - part[0].time_s < COUNTED_OVER_S[0]:
            continue
        flowed, said = flowed_mah(part), part[-1].mah - part[0].mah
        step = COARSE_MAH if all(s.mah % COARSE_MAH == 0 for s in part) else 0.0
        if abs(said - flowed) > COUNTED_SHARE * max(said, flowed) + COUNTED_MAH + step:
            words = (
                f"In {part[-1].time_s - part[0].time_s:.0f} s the charger counted {said:.0f} mAh, while its "
                f"amps make {flowed:.0f} mAh: the capacity cut-off cannot be trusted."
            )
            yield Alarm("miscount", "stop", h.now_s, words)
            return


def stuck(h: Heard) -> Iterator[Alarm]:
    """Cells that stand still though what flowed must have moved them: it may be that nobody reads them."""
    if h.last is None or len(h.window) < 3:
        return
    still: list[Sample] = []
    for one in reversed(h.window):
        if one.cell_v != h.last.cell_v:
            break
        still.insert(0, one)
    if (len(still) - 1) * len(h.last.cell_v) < ALIKE:
        return
    # at constant volts they stand, and the current falls
    held = max(h.last.cell_v) >= h.expected.full_cell_v - HELD_AT_V
    least = STEADY_HELD if held else STEADY
    steady = min(s.current_a for s in still) >= least * max(s.current_a for s in still)
    due_v = rise_due_v(h.expected, min(h.last.cell_v), flowed_mah(still) / 1000)
    if steady and due_v >= STUCK_STEPS * _meter_step_v(h.window):
        words = (
            f"No cell has moved by a millivolt for {still[-1].time_s - still[0].time_s:.0f} s, where "
            f"{flowed_mah(still):.0f} mAh must have raised them by {due_v:.3f} V: the readings are stuck."
        )
        yield Alarm("stuck", "stop", h.now_s, words)


def flowed_mah(samples: Sequence[Sample]) -> float:
    """What the amps make, by trapezia. [mAh]"""
    return sum((b.current_a + a.current_a) / 2 * (b.time_s - a.time_s) / 3.6 for a, b in pairwise(samples))


def _meter_step_v(samples: Sequence[Sample]) -> float:
    """The step of the meter, by the digits that it shows. [V]"""
    coarse = all(abs(v / COARSE_V - round(v / COARSE_V)) < 1e-6 for s in samples for v in s.cell_v)
    return COARSE_V if coarse else FINE_V
