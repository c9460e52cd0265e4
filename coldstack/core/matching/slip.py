"""The settings slip: what to set on a charger for a pack, what limits it, and how long it takes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.charging.amps import Feed, amps_working, charge_amps
from coldstack.core.charging.charge_time import ChargeTime
from coldstack.core.charging.charger import Charger, Input, Supply
from coldstack.core.matching.charge import (
    Bench,
    ChargeFit,
    charge_fit,
    fit_times,
    half_of,
    is_useful,
    start_soc,
)
from coldstack.core.packs.pack import Pack
from coldstack.core.rules import cautions
from coldstack.core.rules.cautions import Caution
from coldstack.core.rules.house_rules import HouseRules, for_chemistry
from coldstack.core.units import lower_first, plain_number
from coldstack.core.working import Step, Working

TIMER_FACTOR = 1.3
CUTOFF_FACTOR = 1.15
"""Safety timer over expected minutes, capacity cut-off over expected mAh: room for a range, not for a fault."""
CUTOFF_STEP_MAH = 10


@dataclass(frozen=True, slots=True)
class Slip:
    """What to set. ``end_cell_v`` is None for NiMH, which ends at its peak. [A], [V], [min], [mAh]"""

    chemistry: str
    program: str
    series: int
    current_a: float
    charge_c: float
    end_cell_v: float | None
    end_v: float | None
    timer_min: int
    cutoff_mah: int
    minutes: float
    minutes_low: float
    minutes_high: float
    binding: str
    line: str
    start_soc: float
    workings: dict[str, Working]


@dataclass(frozen=True, slots=True)
class PortRow:
    """Amps by input and ports in use; ``useful`` is false where they are too few to call it a fit."""

    feed_name: str
    source: Input
    supply: str
    ports_in_use: int
    current_a: float
    useful: bool
    binding: str


@dataclass(frozen=True, slots=True)
class Halves:
    """What becomes of a pack with too many cells if it is two equal ones joined in series."""

    possible: bool
    sentence: str


def slip(fit: ChargeFit, *, rules: HouseRules, trust: LabelTrust, rest_cell_v: float | None = None, imbalance_ah: float | None = None) -> Slip | None:  # fmt: skip
    """The settings for a possible fit; None where the charge is refused."""
    if not fit.possible or fit.amps is None:
        return None
    time = fit_times([fit], rules=rules, trust=trust, rest_cell_v=rest_cell_v, imbalance_ah=imbalance_ah)
    cell, pack, cell_rules = chemistry(fit.pack.chemistry), fit.pack, for_chemistry(rules, fit.pack.chemistry)
    ends_at_volts = cell.charge_method == "cc_cv"
    minutes, low, high = float(time.minutes[0]), float(time.low[0]), float(time.high[0])
    put_in_mah = 1000 * float(time.put_in_ah[0])
    return Slip(
        chemistry=cell.name,
        program=_program(fit),
        series=pack.series,
        current_a=fit.amps.current_a,
        charge_c=fit.amps.current_a / pack.capacity_ah,
        end_cell_v=cell_rules.full_v if ends_at_volts else None,
        end_v=cell_rules.full_v * pack.series if ends_at_volts else None,
        timer_min=math.ceil(TIMER_FACTOR * minutes),
        cutoff_mah=max(
            CUTOFF_STEP_MAH, round(CUTOFF_FACTOR * put_in_mah / CUTOFF_STEP_MAH) * CUTOFF_STEP_MAH
        ),
        minutes=minutes,
        minutes_low=low,
        minutes_high=high,
        binding=fit.amps.binding.name,
        line=_line(fit, minutes),
        start_soc=start_soc(pack, rules, rest_cell_v),
        workings=_workings(fit, time, rules, rest_cell_v, put_in_mah),
    )


def port_rows(pack: Pack, charger: Charger, *, rules: HouseRules, supplies: Sequence[Supply], fit: ChargeFit) -> list[PortRow]:  # fmt: skip
    """Amps for this pack by input and by how many ports are in use (one, two, then doubling up to all)."""
    counts = sorted({n for n in (1, 2, 4, 8, 16) if n < charger.ports} | {charger.ports})
    feeds: list[tuple[str, Input, Supply | None]] = [("on mains", "mains", None)] if charger.mains_w is not None else []  # fmt: skip
    if charger.dc_w is not None:
        feeds.append(("on strong DC", "dc", None))
        fitting = [
            s for s in supplies if (charger.dc_min_v or 0) <= s.voltage_v <= (charger.dc_max_v or math.inf)
        ]
        feeds += [(f"behind {s.name}", "dc", s) for s in fitting]
    rows = []
    for name, source, supply in feeds:
        for count in counts:
            amps = charge_amps(pack, charger, rules=rules, feed=Feed(source, supply, count), path=fit.path)
            rows.append(PortRow(name, source, supply.name if supply else "", count, amps.current_a, is_useful(pack, amps), amps.binding.name))  # fmt: skip
    return rows


def halves(fit: ChargeFit, *, rules: HouseRules, trust: LabelTrust, bench: Bench) -> Halves | None:
    """For a pack with too many cells: whether its two halves could be charged one after the other. None for others."""
    pack, charger = fit.pack, fit.charger
    if not any(r.id == "cells" for r in fit.refusals) or pack.series <= charger.series_max:
        return None
    if pack.series % 2:
        return Halves(False, f"{pack.series} cells do not make two equal halves.")
    half = half_of(pack)
    part = charge_fit(half, charger, rules=rules, feed=fit.feed, bench=bench)
    each = f"{half.series}S"
    if not part.possible or part.amps is None:
        return Halves(False, f"Nor could two {each} halves: {part.refusals[0].sentence}")
    minutes = float(fit_times([part], rules=rules, trust=trust).minutes[0])
    return Halves(
        True,
        f"If it is two {each} packs joined in series, each with its own main and balance plug: take them apart, and each half charges "
        f"at {plain_number(part.amps.current_a)} A in about {minutes:.0f} min. A sealed pack with one main plug cannot be split: it "
        f"needs a charger for {pack.series} cells.",
    )


def slip_cautions(fit: ChargeFit) -> list[Caution]:
    """What to mind of this charge, at the place where it is set up."""
    found = [cautions.STAY_WITH_IT, cautions.NEVER_FROZEN]
    if fit.charger.output_plug == "banana_4":
        found.insert(0, cautions.LEAD_FIRST)
    if fit.pack.chemistry == "lihv":
        found.append(cautions.LIHV_SETTING)
    if fit.pack.chemistry == "nimh":
        found.append(cautions.NIMH_WARMS)
    return found


def _program(fit: ChargeFit) -> str:
    if chemistry(fit.pack.chemistry).charge_method == "peak":
        return "NiMH, ends at the peak (−ΔV)"
    return "balance charge" if fit.balance else "charge, single cell"


def _line(fit: ChargeFit, minutes: float) -> str:
    assert fit.amps is not None
    return f"{fit.charger.name} can charge this pack at {plain_number(fit.amps.current_a)} A, in about {minutes:.0f} min. Limit: {lower_first(fit.amps.binding.name)}."  # fmt: skip


def _workings(fit: ChargeFit, time: ChargeTime, rules: HouseRules, rest_cell_v: float | None, put_in_mah: float) -> dict[str, Working]:  # fmt: skip
    assert fit.amps is not None
    pack, n, minutes = fit.pack, plain_number, float(time.minutes[0])
    soc0, soc1 = start_soc(pack, rules, rest_cell_v), float(time.end_soc[0])
    source = "from the resting volts, through the open-circuit curve" if rest_cell_v is not None else f"landing point of {rules.cited}"  # fmt: skip
    circuit, taper, balance = (float(x[0]) for x in (time.circuit_min, time.taper_min, time.balance_min))
    into = Step("Charge to put in", "Ah × (end − start)", f"{n(pack.capacity_ah)} Ah × ({soc1:.2f} − {soc0:.2f}) → {n(put_in_mah)} mAh", source)  # fmt: skip
    return {
        "amps": amps_working(fit.amps, fit.charger),
        "minutes": Working(
            "Minutes to full",
            (
                into,
                Step("Constant current, then taper", "∫ Ah ds ÷ I(s)", f"{circuit - taper:.0f} min at {n(fit.amps.current_a)} A, {taper:.0f} min falling to C/20"),
                Step("What real packs take more", "6.5 %, at least 5 min", f"{max(0.065 * circuit, 5):.0f} min", "the circuit ends 4 to 9 % before a physics-based cell does"),
                Step("Balancing", "worst cell’s Ah ÷ balance amps", f"{balance:.0f} min at {n(fit.charger.balance_a)} A" if balance else "nothing to balance", "1 % of the capacity where the cells were not read"),
                Step("Together", "", f"{minutes:.0f} min", f"range {float(time.low[0]):.0f} to {float(time.high[0]):.0f} min: resistance ±25 %, capacity ±3 %"),
            ),
        ),
        "timer": Working("Safety timer", (Step("Timer", f"{n(TIMER_FACTOR)} × minutes", f"{n(TIMER_FACTOR)} × {minutes:.0f} = {math.ceil(TIMER_FACTOR * minutes)} min", "stops a charge that does not end by itself"),)),
        "cutoff": Working("Capacity cut-off", (into, Step("Cut-off", f"{n(CUTOFF_FACTOR)} × mAh expected", f"{n(CUTOFF_FACTOR)} × {n(put_in_mah)} = {n(CUTOFF_FACTOR * put_in_mah)} mAh", "in steps of 10 mAh"))),
        "end_v": Working("End volts", (Step("A cell", "least of chemistry and house rules", f"{for_chemistry(rules, pack.chemistry).full_v:.2f} V", f"{rules.cited}, never above what the chemistry takes"), Step("The pack", "cells × volts", f"{pack.series} × {for_chemistry(rules, pack.chemistry).full_v:.2f} V = {for_chemistry(rules, pack.chemistry).full_v * pack.series:.2f} V"))),
    }  # fmt: skip
