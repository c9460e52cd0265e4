"""How often the watch cries wolf: good charges on the simulated charger, with a noisy meter, unequal cells
that balance slowly, a room that warms, and a wobbling contact. ``python -m bench.false_alarms [COUNT]``."""

from __future__ import annotations

import sys
from collections import Counter, deque

import numpy as np

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.watching.expected import Expected
from coldstack.core.watching.judging import alarms
from coldstack.core.watching.samples import Sample
from coldstack.standins.charger_port import Port

KINDS = ("lipo", "lihv", "liion", "lifepo4")


def one(chance: np.random.Generator) -> set[str]:
    """The alarms of one good charge, looked at in time."""
    kind = chemistry(str(chance.choice(KINDS)))
    series, ah = int(chance.integers(2, 7)), float(chance.uniform(1.0, 8.0))
    amps = ah * float(chance.uniform(0.5, 1.2))
    cells = [
        {
            "capacity_ah": ah * chance.normal(1, 0.02),
            "resistance_mohm": 11 / ah * chance.normal(1, 0.08),
            "soc": float(np.clip(chance.uniform(0.15, 0.5) + chance.normal(0, 0.01), 0.05, 0.9)),
        }
        for _ in range(series)
    ]
    base = cells[0]["soc"]
    for c in cells[1:]:
        c["soc"] = float(np.clip(base + chance.normal(0, 0.012), 0.05, 0.9))
    port = Port(1, 0.8)
    port.plug({"chemistry": kind.id, "cells": cells, "mass_g": 85 * series * ah / 2, "air_c": 21.0})
    order = {
        "chemistry": kind.id,
        "program": "balance",
        "cells": series,
        "current_a": amps,
        "end_cell_v": kind.full_v,
        "timer_s": 4 * 3600.0,
        "cutoff_mah": 1150 * ah,
    }
    port.start(order, "r", KINDS)
    expected = Expected(kind.id, series, ah, amps, kind.full_v, 4 * 3600.0, 1150 * ah, 1200.0, None)
    warming, noise_v = float(chance.uniform(0, 3.0)), float(chance.uniform(0.0003, 0.002))
    wobbles, loose = chance.random() < 0.3, int(chance.integers(series))
    recent: deque[Sample] = deque(maxlen=60)
    first, found, taken = None, set(), 0
    while port.state == "charging" and port.time_s < 4 * 3600:
        port.air_c = 21.0 + warming * min(port.time_s / 3600, 1.0)
        port.advance(5.0)
        for said in port.samples[taken:]:
            volts = [v + chance.normal(0, noise_v) for v in said["cell_v"]]
            if wobbles and chance.random() < 0.05:
                volts[loose] -= abs(chance.normal(0, 0.008))
            s = Sample(
                said["seq"],
                said["time_s"],
                tuple(volts),
                said["current_a"],
                said["temperature_c"] + chance.normal(0, 0.2),
                said["mah"],
            )
            first = first or s
            recent.append(s)
        taken = len(port.samples)
        samples = [x for x in (first, *[r for r in recent if r is not first]) if x is not None]
        now = port.time_s
        found |= {a.id for a in alarms(samples, expected, looked_s=now, now_s=now)}
    return found


def main(count: int) -> None:
    """Prints how many good charges were alarmed, and by what."""
    chance, kinds, alarmed = np.random.default_rng(15), Counter[str](), 0
    for _ in range(count):
        found = one(chance)
        alarmed += bool(found)
        kinds.update(found)
    print(f"{count} good charges: {alarmed} with an alarm ({dict(kinds)})")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 1000)
