"""Charges of sound packs by the program's own physics, read by honest meters and judged sample by sample:
what the watch says of them. For tests, and for ``python -m bench.false_alarms``.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage, soc_at_rest
from coldstack.core.cells.resistance import typical_cell_mohm
from coldstack.core.charging.amps import Feed
from coldstack.core.charging.charger import Charger
from coldstack.core.charging.margins import METER_V
from coldstack.core.charging.warming import pack_area_m2
from coldstack.core.matching.charge import Bench, charge_fit
from coldstack.core.matching.charger_settings import charger_settings
from coldstack.core.packs.masses import typical_mass_g
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HOUSE_RULES
from coldstack.core.watching.alarm import Alarm
from coldstack.core.watching.expected import Expected, expected_charge
from coldstack.core.watching.heard import Heard, Mark, windowed
from coldstack.core.watching.judging import judge
from coldstack.core.watching.reports import believed
from coldstack.core.watching.samples import Sample
from coldstack.standins import charger_port
from coldstack.standins.charger_port import Port

RATES_C = {"lipo": (1.0, 3.0), "lihv": (1.0, 3.0), "liion": (0.5, 1.0), "semisolid": (0.5, 1.0)}
RATES_C |= {"lifepo4": (1.0, 2.0), "nimh": (1.0, 1.0)}
"""Charge rates that labels print."""
LONGEST_S = 36_000.0


@dataclass
class Meter:
    """How a charger reads: its noise in volts, kelvin and as a share of the amps, what its ammeter and its
    counter are out by, and how often it samples."""

    volts: float = 0.001
    kelvin: float = 0.2
    amps: float = 0.01
    gain: float = 1.0
    every_s: float = 5.0
    bounce: float = 0.0
    """How often a contact lets a cell read too low for one sample."""
    jitter_s: float = 0.0

    def read(self, said: dict, chance: np.random.Generator) -> dict:
        """A sample as it shows it."""
        volts = [round(v + chance.normal(0, self.volts), 3) for v in said["cell_v"]]
        if self.bounce and chance.random() < self.bounce:
            k = int(chance.integers(len(volts)))
            volts[k] = round(volts[k] - abs(chance.normal(0, 0.01)), 3)
        return {
            **said,
            "time_s": round(said["time_s"] + chance.uniform(0, self.jitter_s), 1),
            "cell_v": volts,
            "current_a": round(said["current_a"] * self.gain * (1 + chance.normal(0, self.amps)), 3),
            "temperature_c": round(said["temperature_c"] + chance.normal(0, self.kelvin), 1),
            "mah": round(said["mah"] * self.gain, 0),
        }


@dataclass
class SoundPack:
    """A pack by its label, its cells in truth, and what a checker read of them."""

    pack: Pack
    cells: list[dict[str, float]]
    read_v: list[float]
    start_c: float
    spreading: float
    balance_a: float


def sound_pack(kind: str, chance: np.random.Generator) -> SoundPack:
    """A sound pack, drawn: a little less or more than its label, cells alike, somewhere below half."""
    cell, series = chemistry(kind), int(chance.integers(5, 9) if kind == "nimh" else chance.integers(1, 7))
    ah = round(float(chance.uniform(0.6, 8.0)), 1)
    pack = Pack(
        "p",
        "sound",
        kind,
        series,
        ah,
        mass_g=typical_mass_g(kind, series, ah) * float(chance.uniform(0.85, 1.15)),
        label_c=cell.typical_label_c,
        charge_c=float(chance.choice(RATES_C[kind])),
    )
    true_ah, mohm = (
        ah * chance.uniform(0.94, 1.02),
        typical_cell_mohm(kind, ah) * chance.lognormal(0, 0.15),
    )
    base = float(chance.uniform(0.06, 0.5))
    cells = [
        {
            "capacity_ah": float(true_ah * chance.normal(1, 0.01)),
            "resistance_mohm": float(mohm * chance.normal(1, 0.06)),
            "soc": float(np.clip(base + chance.normal(0, 0.01), 0.03, 0.9)),
        }
        for _ in range(series)
    ]
    errors = np.clip(chance.normal(0, 0.003, series), -METER_V, METER_V)
    read = [resting_voltage(kind, c["soc"]) + float(x) for c, x in zip(cells, errors, strict=True)]
    balance_a = float(chance.uniform(0.2, 1.0))
    return SoundPack(
        pack, cells, read, float(chance.uniform(12, 26)), float(chance.uniform(0.7, 1.5)), balance_a
    )


def set_for(sound: SoundPack, rules: str = "field_day") -> tuple[Expected, dict]:
    """What the program sets for it and expects of it, and the order that a charger gets."""
    pack = sound.pack
    port = Charger(
        "c",
        "c",
        (pack.chemistry,),
        14,
        30.0,
        800.0,
        nimh_cells_max=14,
        mains_w=800.0,
        output_plug=pack.plug,
        balance_a=sound.balance_a,
    )
    fit = charge_fit(replace(pack), port, rules=HOUSE_RULES[rules], feed=Feed("mains"), bench=Bench())
    socs = [soc_at_rest(pack.chemistry, v) for v in sound.read_v]
    found = charger_settings(
        fit,
        rules=HOUSE_RULES[rules],
        trust="cautious",
        rest_cell_v=max(min(sound.read_v), chemistry(pack.chemistry).damage_v + 0.01),
        imbalance_ah=(max(socs) - min(socs)) * pack.held_ah,
    )
    assert found is not None, fit.refusals
    e = expected_charge(
        pack, found, look_every_s=1200.0, area_m2=pack_area_m2(pack), balance_a=sound.balance_a
    )
    order = {
        "chemistry": pack.chemistry,
        "program": "balance" if fit.balance else "plain",
        "cells": pack.series,
        "current_a": e.current_a,
        "end_cell_v": found.end_cell_v or 0.0,
        "timer_s": 1e6,
        "cutoff_mah": 1e6,
    }
    return e, order


def watched(
    sound: SoundPack, meter: Meter, chance: np.random.Generator, took_s: list[float] | None = None
) -> Iterator[Alarm]:
    """Every alarm of its charge, looked at in time."""
    e, order = set_for(sound)
    port = Port(1, sound.balance_a)
    known = {"chemistry": e.chemistry, "cells": sound.cells, "mass_g": sound.pack.mass_g}
    port.plug({**known, "air_c": 21.0, "start_c": sound.start_c})
    assert port.cells is not None
    port.cells._spreading_ohm_ah *= sound.spreading
    port.start(order, "r", (e.chemistry,))
    took_s = [] if took_s is None else took_s
    first: Sample | None = None
    window: list[Sample] = []
    marks: list[Mark] = []
    failed: frozenset[str] = frozenset()
    taken = 0
    while port.state == "charging" and port.time_s < LONGEST_S:
        port.advance(meter.every_s)
        new = port.samples[taken:]
        if meter.every_s > charger_port.SAMPLE_S and port.state == "charging":
            new = new[-1:]  # a slow one tells no more
        fresh = [meter.read(x, chance) for x in new]
        taken = len(port.samples)
        said = believed(
            {"state": port.state, "ended": "", "time_s": port.time_s, "samples": fresh},
            cells=len(sound.cells),
            before=window[-1] if window else None,
        )
        assert not said.doubts or port.state != "charging", said.doubts
        window, first = windowed(window, said.samples), first or next(iter(said.samples), None)
        if port.state == "charging":
            marks = [*marks[-40:], Mark(port.time_s, port.time_s)]
        now = max(port.time_s, window[-1].time_s if window else 0.0)
        h = Heard(e, first, tuple(window), said.samples, looked_s=now, now_s=now, clock=tuple(marks))
        found = judge(h, failed_before=failed)
        failed = found.failed
        took_s[:] = [port.time_s]
        yield from found.alarms
        if any(a.level == "stop" for a in found.alarms):
            return


def tally(kind: str, count: int, seed: int, *, step_s: float = 1.0) -> tuple[Counter[str], int]:
    """Alarms of so many sound packs of a chemistry, by kind and level; and how many were to be stopped."""
    chance, kinds, stopped = np.random.default_rng(seed), Counter[str](), 0
    before, charger_port.STEP_S = charger_port.STEP_S, step_s
    try:
        for _ in range(count):
            meter = Meter(
                gain=float(chance.uniform(0.98, 1.02)),
                volts=float(chance.uniform(0.0003, 0.002)),
                every_s=float(chance.choice((5.0, 10.0, 15.0))),
            )
            found = {(a.id, a.level) for a in watched(sound_pack(kind, chance), meter, chance)}
            kinds.update(f"{a} ({level})" for a, level in found)
            stopped += any(level == "stop" for _, level in found)
    finally:
        charger_port.STEP_S = before
    return kinds, stopped
