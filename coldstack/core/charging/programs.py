"""Bringing a pack to storage on a charger, up or down; and running it down instead."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.chain.adapters import Path
from coldstack.core.charging.amps import AmpsLimit, Feed, charge_amps, most_to_set, path_limits
from coldstack.core.charging.charger import Charger
from coldstack.core.errors import require_between
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import PackReading, storage_soc
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.units import about_number, lower_first, minutes_words, plain_number
from coldstack.core.working import Step, Working

Direction = Literal["none", "charge", "discharge"]


@dataclass(frozen=True, slots=True)
class StorageProgram:
    """How a pack gets to storage on a charger. ``hours`` is None where it cannot: no discharge, say."""

    direction: Direction
    target_soc: float
    target_cell_v: float
    mah: float
    current_a: float
    hours: float | None
    binding: str
    sentence: str
    working: Working


@dataclass(frozen=True, slots=True)
class RunDown:
    """Running it down to storage in a model instead."""

    minutes: float
    sentence: str


def storage_program(
    pack: Pack, charger: Charger, reading: PackReading, *, rules: HouseRules, feed: Feed, path: Path | None
) -> StorageProgram:
    """Direction, amps, mAh and hours to the middle of the storage band.

    Up: what any charge there may have (`charge_amps`), at most the cap of its storage program. Down: the
    charger's discharge watts over the pack's mean volts, the port's amps, the cap, 1C, and what lies between.
    The taper near storage is short, so hours are Ah ÷ A.

    Raises
    ------
    DomainError
        As `charge_amps`.
    """
    low, high = storage_soc(pack.chemistry)
    now = sum(reading.socs) / len(reading.socs)
    target = min(max(now, low), high) if chemistry(pack.chemistry).storage_v is None else (low + high) / 2
    direction: Direction = "none" if low <= now <= high else "charge" if now < low else "discharge"
    ah = abs(target - now) * pack.held_ah
    mean_v = (
        pack.series * (resting_voltage(pack.chemistry, now) + resting_voltage(pack.chemistry, target)) / 2
    )
    if direction == "discharge":
        limits = _down(pack, charger, mean_v, path)
    else:
        amps_up = charge_amps(pack, charger, rules=rules, feed=feed, path=path)
        limits = [*amps_up.limits, *_cap(charger)]
    binding = min(limits, key=lambda x: x.current_a)
    amps = binding.current_a if direction == "discharge" else most_to_set(binding.current_a, charger.step_a)
    hours = None if amps <= 0 else 0.0 if direction == "none" else ah / amps
    target_v = resting_voltage(pack.chemistry, target)
    return StorageProgram(
        direction,
        target,
        target_v,
        0.0 if direction == "none" else 1000 * ah,
        amps,
        hours,
        binding.name,
        _sentence(pack, charger, direction, ah, amps, hours, binding),
        _working(direction, now, target, ah, amps, hours, limits),
    )


def run_down(pack: Pack, reading: PackReading, *, average_w: float, model: str) -> RunDown | None:
    """Minutes in a model at its average watts until the pack is at storage; None if it is there or below.

    Raises
    ------
    DomainError
        For watts that are not above zero.
    """
    require_between("average_w", "Average watts", average_w, low=0.01, high=1e6, unit="W")
    low, high = storage_soc(pack.chemistry)
    now, target = sum(reading.socs) / len(reading.socs), (low + high) / 2
    if now <= high:
        return None
    mean_v = (
        pack.series * (resting_voltage(pack.chemistry, now) + resting_voltage(pack.chemistry, target)) / 2
    )
    minutes = 60 * (now - target) * pack.held_ah * mean_v / average_w
    return RunDown(
        minutes,
        f"Or run it in {model} for about {minutes:.1f} min, at its average of {plain_number(average_w)} W.",
    )


def _cap(charger: Charger) -> list[AmpsLimit]:
    if charger.storage_cap_a is None:
        return []
    return [AmpsLimit("cap", "The cap of its storage program", charger.storage_cap_a, "sheet")]


def _down(pack: Pack, charger: Charger, mean_v: float, path: Path | None) -> list[AmpsLimit]:
    watts = charger.discharge_w or 0.0
    terms = (watts, " W ÷ ", mean_v, " V")
    return [
        AmpsLimit("watts", "Its discharge watts", watts / mean_v, "watts ÷ mean volts", terms),
        AmpsLimit("one_c", "1C of the pack", pack.capacity_ah, "1C × Ah", (pack.capacity_ah, " Ah")),
        AmpsLimit("port_amps", "The port’s amps", charger.port_a, "sheet"),
        *_cap(charger),
        *([] if path is None else path_limits(path)),
    ]


def _sentence(
    pack: Pack,
    charger: Charger,
    direction: Direction,
    ah: float,
    amps: float,
    hours: float | None,
    binding: AmpsLimit,
) -> str:
    if chemistry(pack.chemistry).storage_v is None:
        return f"{chemistry(pack.chemistry).name} keeps at any charge, cool."
    if direction == "none":
        return "It is at storage already."
    if hours is None and direction == "charge":
        return f"It cannot be charged now. Limit: {lower_first(binding.name)}."
    if hours is None:
        return f"{charger.name} cannot discharge."
    way = "out" if direction == "discharge" else "in"
    return (
        f"{about_number(1000 * ah, 3)} mAh {way} at {plain_number(amps, 2)} A. Limit: "
        f"{lower_first(binding.name)}."
    )


def _working(
    direction: Direction,
    now: float,
    target: float,
    ah: float,
    amps: float,
    hours: float | None,
    limits: list[AmpsLimit],
) -> Working:
    steps = [
        Step("Charge now", "resting volts through the open-circuit curve", f"{now * 100:.0f} %"),
        Step("Storage", "the middle of its band", f"{target * 100:.0f} %"),
    ]
    if direction != "none":
        steps += [Step(x.name, x.formula, x.numbers) for x in sorted(limits, key=lambda x: x.current_a)]
        steps.append(
            Step(
                "Time",
                "Ah ÷ A",
                f"{plain_number(ah)} Ah ÷ {plain_number(amps)} A = {minutes_words(60 * hours)}"
                if hours
                else "not possible",
            )
        )
    return Working("To storage", tuple(steps), "Small chargers discharge at a few watts: it takes hours.")
