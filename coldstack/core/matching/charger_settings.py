"""The charger settings: what to set on a charger for a pack, what limits it, and how long it takes."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.resistance import SPREADING, LabelTrust
from coldstack.core.charging.amps import Feed, amps_working, charge_amps
from coldstack.core.charging.charge_time import AROUND_MIN, ChargeTime
from coldstack.core.charging.charger import Charger, Input, Supply
from coldstack.core.charging.margins import CUTOFF_FACTOR, CUTOFF_STEP_MAH, METER_V, TIMER_FACTOR
from coldstack.core.matching.charge import Bench, ChargeFit, charge_fit, fit_times, half_of, start_soc
from coldstack.core.matching.refusals import is_useful
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules, for_chemistry
from coldstack.core.safety import cautions
from coldstack.core.safety.cautions import Caution
from coldstack.core.units import lower_first, plain_number
from coldstack.core.units import plain_number as n
from coldstack.core.working import Step, Working


@dataclass(frozen=True, slots=True)
class ChargerSettings:
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


def charger_settings(
    fit: ChargeFit,
    *,
    rules: HouseRules,
    trust: LabelTrust,
    rest_cell_v: float | None = None,
    imbalance_ah: float | None = None,
) -> ChargerSettings | None:
    """The settings for a possible fit; None where the charge is refused."""
    if not fit.possible or fit.amps is None:
        return None
    time = fit_times([fit], rules=rules, trust=trust, rest_cell_v=rest_cell_v, imbalance_ah=imbalance_ah)
    cell, pack, cell_rules = chemistry(fit.pack.chemistry), fit.pack, for_chemistry(rules, fit.pack.chemistry)
    ends_at_volts = cell.charge_method == "cc_cv"
    minutes, low, high = float(time.minutes[0]), float(time.low[0]), float(time.high[0])
    put_in_mah, most_mah = 1000 * float(time.put_in_ah[0]), 1000 * float(time.put_in_high_ah[0])
    return ChargerSettings(
        chemistry=cell.name,
        program=_program(fit),
        series=pack.series,
        current_a=fit.amps.current_a,
        charge_c=fit.amps.current_a / pack.capacity_ah,
        end_cell_v=cell_rules.full_v if ends_at_volts else None,
        end_v=cell_rules.full_v * pack.series if ends_at_volts else None,
        timer_min=math.ceil(TIMER_FACTOR * high),
        cutoff_mah=cutoff_mah(most_mah),
        minutes=minutes,
        minutes_low=low,
        minutes_high=high,
        binding=fit.amps.binding.name,
        line=_line(fit, minutes),
        start_soc=start_soc(pack, rules, rest_cell_v),
        workings=_workings(fit, time, rules, rest_cell_v, put_in_mah),
    )


def cutoff_mah(most_mah: float) -> int:
    """The capacity cut-off over the most that a sound pack may take, in steps as it is set. [mAh]"""
    return max(1, math.ceil(CUTOFF_FACTOR * most_mah / CUTOFF_STEP_MAH)) * CUTOFF_STEP_MAH


def port_rows(
    pack: Pack, charger: Charger, *, rules: HouseRules, supplies: Sequence[Supply], fit: ChargeFit
) -> list[PortRow]:
    """Amps for this pack by input and by how many ports are in use (one, two, then doubling up to all)."""
    counts = sorted({n for n in (1, 2, 4, 8, 16) if n < charger.ports} | {charger.ports})
    feeds: list[tuple[str, Input, Supply | None]] = (
        [("on mains", "mains", None)] if charger.mains_w is not None else []
    )
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
            rows.append(
                PortRow(
                    name,
                    source,
                    supply.name if supply else "",
                    count,
                    amps.current_a,
                    is_useful(pack, amps),
                    amps.binding.name,
                )
            )
    return rows


def halves(fit: ChargeFit, *, rules: HouseRules, trust: LabelTrust, bench: Bench) -> Halves | None:
    """For a pack with too many cells: whether its two halves could be charged one after the other.

    None for others.
    """
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
        f"If it is two {each} packs joined in series, each with its own main and balance plug: "
        f"take them apart, and each half charges at {plain_number(part.amps.current_a)} A "
        f"in about {minutes:.0f} min. A sealed pack with one main plug cannot be split: "
        f"it needs a charger for {pack.series} cells.",
    )


def settings_cautions(fit: ChargeFit) -> list[Caution]:
    """What to mind of this charge, at the place where it is set up."""
    found = [cautions.STAY_WITH_IT, cautions.NEVER_FROZEN]
    if fit.charger.output_plug == "banana_4" and not fit.charger.by_balance:
        found.insert(0, cautions.LEAD_FIRST)
    return [*found, *cautions.BY_CHEMISTRY.get(fit.pack.chemistry, ())]


def _program(fit: ChargeFit) -> str:
    if chemistry(fit.pack.chemistry).charge_method == "peak":
        return "ends at the peak (−ΔV)"
    return "balance charge" if fit.balance else "charge, single cell"


def _line(fit: ChargeFit, minutes: float) -> str:
    assert fit.amps is not None
    amps, limit = plain_number(fit.amps.current_a), lower_first(fit.amps.binding.name)
    return f"{fit.charger.name} can charge this pack at {amps} A, in about {minutes:.0f} min. Limit: {limit}."


def _workings(
    fit: ChargeFit, time: ChargeTime, rules: HouseRules, rest_cell_v: float | None, put_in_mah: float
) -> dict[str, Working]:
    assert fit.amps is not None
    into = _put_in_step(fit.pack, time, rules, rest_cell_v, put_in_mah)
    return {
        "amps": amps_working(fit.amps, fit.charger),
        "minutes": Working("Minutes to full", (into, *_minutes_steps(fit, time))),
        "timer": Working("Safety timer", (_timer_step(float(time.high[0])),)),
        "cutoff": Working("Capacity cut-off", (into, *_cutoff_steps(1000 * float(time.put_in_high_ah[0])))),
        "end_v": Working("End volts", _end_steps(fit.pack, rules)),
    }


def _put_in_step(
    pack: Pack, time: ChargeTime, rules: HouseRules, rest_cell_v: float | None, put_in_mah: float
) -> Step:
    soc0, soc1 = start_soc(pack, rules, rest_cell_v), float(time.end_soc[0])
    source = (
        f"landing point of {rules.cited}"
        if rest_cell_v is None
        else "from the resting volts, through the open-circuit curve"
    )
    numbers = f"{n(pack.held_ah)} Ah × ({soc1:.2f} − {soc0:.2f}) → {n(put_in_mah)} mAh"
    return Step("Charge to put in", "Ah × (end − start)", numbers, source)


def _minutes_steps(fit: ChargeFit, time: ChargeTime) -> Iterator[Step]:
    assert fit.amps is not None
    cell = chemistry(fit.pack.chemistry)
    flowing, taper, balance = (float(x[0]) for x in (time.flowing_min, time.taper_min, time.balance_min))
    yield Step(
        "Constant current, then taper",
        "∫ Ah ds ÷ I(s)",
        f"{flowing - taper:.0f} min at {n(fit.amps.current_a)} A, {taper:.0f} min falling to C/20",
        "it ends at its peak"
        if cell.charge_method == "peak"
        else f"the taper by the cell’s resistance and {n(SPREADING[cell.id].middle)} mΩ·Ah more, "
        f"as {cell.name} has",
    )
    beside = "done while it charges" if fit.balance else "nothing to balance"
    yield Step(
        "Balancing",
        "worst cell’s Ah ÷ balance amps, less what is done while it charges",
        f"{balance:.0f} min more at {n(fit.charger.balance_a)} A" if balance >= 0.5 else beside,
        "1 % of the capacity where the cells were not read",
    )
    yield Step(
        "The charger’s own", "to see what hangs on it, to be sure of the end", f"{n(AROUND_MIN[1])} min"
    )
    low, high = float(time.low[0]), float(time.high[0])
    unknown = f"range {low:.0f} to {high:.0f} min: resistance ±25 %, capacity ±3 %, slow cells"
    yield Step("Together", "", f"{float(time.minutes[0]):.0f} min", unknown)


def _timer_step(high_min: float) -> Step:
    numbers = f"{n(TIMER_FACTOR)} × {high_min:.0f} = {math.ceil(TIMER_FACTOR * high_min)} min"
    why = "stops a charge that does not end by itself, and no sound pack"
    return Step("Timer", f"{n(TIMER_FACTOR)} × the most minutes", numbers, why)


def _cutoff_steps(most_mah: float) -> Iterator[Step]:
    yield Step(
        "At most",
        "3 % more capacity, from the least charge that its volts allow",
        f"{n(most_mah)} mAh",
        f"the meter may read {1000 * METER_V:.0f} mV too high",
    )
    numbers = f"{n(CUTOFF_FACTOR)} × {n(most_mah)} → {cutoff_mah(most_mah)} mAh"
    yield Step("Cut-off", f"{n(CUTOFF_FACTOR)} × the most mAh", numbers, f"in steps of {CUTOFF_STEP_MAH} mAh")


def _end_steps(pack: Pack, rules: HouseRules) -> tuple[Step, Step]:
    full_v = for_chemistry(rules, pack.chemistry).full_v
    never_above = f"{rules.cited}, never above what the chemistry takes"
    return (
        Step("A cell", "least of chemistry and house rules", f"{full_v:.2f} V", never_above),
        Step("The pack", "cells × volts", f"{pack.series} × {full_v:.2f} V = {full_v * pack.series:.2f} V"),
    )
