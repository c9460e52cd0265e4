"""Equipment that a pack serves for hours: its load with bursts, the volts it accepts, a regulator between."""

from __future__ import annotations

from dataclasses import dataclass, fields
from functools import partial
from typing import Annotated, Literal

from coldstack.core.equipment.kinds import IN_THE_AIR, EquipmentKind, equipment_kind
from coldstack.core.errors import DomainError, faults, refuse
from coldstack.core.fields.quantity import Choice, Quantity, Words
from coldstack.core.fields.table import bounds

Regulator = Literal["none", "linear", "switching"]

REGULATORS: dict[Regulator, str] = {
    "none": "none: straight from the pack",
    "linear": "linear",
    "switching": "switching",
}
DROPOUT_V: dict[Regulator, float] = {"none": 0.0, "linear": 0.6, "switching": 0.4}
"""What a regulator needs above what it gives; below that it gives its input less this. Typical. [V]"""
SWITCHING_SHARE = 0.90
"""Of a switching regulator's watts, what comes out. Typical, 0.88 to 0.92."""
LONGEST_HOURS = 100.0


def _volts(label: str) -> Quantity:
    return Quantity(label, unit="V", low=0.8, high=130)


@dataclass(frozen=True, slots=True)
class Equipment:
    """What it draws on average, bursts included, in amps at its own volts or in watts; its bursts; the
    hours a pack is to serve; the volts it accepts.

    With a regulator: what that gives (``out_v``), needs above it (``dropout_v``) and takes at most
    (``regulator_max_v``). ``used_share`` of what a pack lasts is used. ``idle_ma`` flows while it lies
    plugged in.
    """

    kind: Annotated[str, Words("What it is", most=20)] = "receiver"
    load_a: Annotated[float | None, Quantity("Average", unit="A", low=0.001, high=200, step=0.1)] = None
    load_w: Annotated[float | None, Quantity("Average", unit="W", low=0.01, high=5000)] = None
    burst_a: Annotated[float | None, Quantity("Bursts", unit="A", low=0.001, high=500, step=0.5)] = None
    burst_s: Annotated[float, Quantity("A burst lasts", unit="s", low=0.1, high=600, step=0.1)] = 0.5
    burst_every_s: Annotated[float, Quantity("A burst every", unit="s", low=0.5, high=7200)] = 20.0
    hours: Annotated[float, Quantity("Hours", unit="h", low=0.05, high=LONGEST_HOURS, step=0.5)] = 3.0
    least_v: Annotated[float, _volts("Works down to")] = 4.8
    most_v: Annotated[float, _volts("Takes up to")] = 8.5
    regulator: Annotated[Regulator, Choice("Regulator", ids=tuple(REGULATORS))] = "none"
    out_v: Annotated[float | None, _volts("Regulator gives")] = None
    dropout_v: Annotated[float | None, Quantity("Needs above that", unit="V", high=10, step=0.1)] = None
    regulator_max_v: Annotated[float | None, _volts("Regulator takes up to")] = None
    efficiency: Annotated[float, Quantity("Regulator’s efficiency", low=0.3, high=1)] = SWITCHING_SHARE
    idle_ma: Annotated[float | None, Quantity("While switched off", unit="mA", low=0, high=5000)] = None
    used_share: Annotated[float, Quantity("Used of what it lasts", low=0.1, high=1)] = IN_THE_AIR

    @property
    def name(self) -> str:
        """What it is, in a sentence."""
        return equipment_kind(self.kind).name

    @property
    def flies(self) -> bool:
        """Whether it goes along in the air."""
        return equipment_kind(self.kind).used_share <= IN_THE_AIR

    @property
    def drop_v(self) -> float:
        """Between the pack and the device, where the pack is low. [V]"""
        return DROPOUT_V[self.regulator] if self.dropout_v is None else self.dropout_v

    @property
    def seen_by(self) -> str:
        """What stands at the pack's volts."""
        return self.name if self.regulator == "none" else "regulator"

    @property
    def pack_max_v(self) -> float:
        """The most that a pack may have. [V]"""
        if self.regulator == "none" or self.regulator_max_v is None:
            return self.most_v
        return self.regulator_max_v

    @property
    def pack_min_v(self) -> float:
        """The least that a pack must hold under a burst, for the device to work. [V]"""
        return self.least_v + self.drop_v

    @property
    def lasting_min(self) -> float:
        """What a pack must last for the hours wanted: those ÷ the share that is used. [min]"""
        return 60 * self.hours / self.used_share

    @property
    def own_v(self) -> float:
        """Volts for which its amps are told: its regulator's, else the middle of what it accepts. [V]"""
        return self.out_v if self.out_v is not None else float((self.least_v * self.most_v) ** 0.5)

    @property
    def mean_a(self) -> float:
        """What it draws on average, at its own volts. [A]"""
        return self.load_a if self.load_a is not None else (self.load_w or 0.0) / self.own_v

    def device_v(self, pack_v: float) -> float:
        """Volts at the device from those of the pack. [V]"""
        through = pack_v - self.drop_v
        return through if self.regulator == "none" or self.out_v is None else min(through, self.out_v)


def usual_equipment(kind: EquipmentKind) -> Equipment:
    """A kind with its usual figures."""
    return Equipment(
        kind=kind.id,
        load_a=kind.amps,
        load_w=kind.watts,
        burst_a=kind.burst_a,
        hours=kind.hours,
        least_v=kind.volts[0],
        most_v=kind.volts[1],
        used_share=kind.used_share,
    )


def assumed_figures(e: Equipment) -> tuple[str, ...]:
    """The fields that nobody gave where all is as usual ("equipment.hours")."""
    figures = (f.name for f in fields(e) if f.name not in ("kind", "regulator"))
    return tuple(f"equipment.{name}" for name in figures if getattr(e, name) is not None)


def check_equipment(e: Equipment) -> Equipment:
    """The equipment itself, if every figure is possible.

    Raises
    ------
    DomainError
        Naming the field ("equipment.load_a").
    """

    checks = (_load, _window, _regulated, _bursts)
    refuse(
        faults(
            lambda: equipment_kind(e.kind), *bounds(e, "equipment."), *(partial(check, e) for check in checks)
        )
    )
    return e


def _load(e: Equipment) -> None:
    if (e.load_a is None) == (e.load_w is None):
        raise DomainError("equipment.load_a", "Say what it draws on average: in amps, or in watts.")


def _window(e: Equipment) -> None:
    if e.least_v >= e.most_v:
        words = f"It cannot work from {e.least_v:g} V up to {e.most_v:g} V: one of the two is wrong."
        raise DomainError("equipment.most_v", words)


def _regulated(e: Equipment) -> None:
    if e.regulator == "none":
        return
    if e.out_v is None:
        raise DomainError("equipment.out_v", "How many volts does the regulator give?")
    if not e.least_v <= e.out_v <= e.most_v:
        takes = f"The device takes {e.least_v:g} to {e.most_v:g} V"
        raise DomainError("equipment.out_v", f"{takes}, and the regulator gives {e.out_v:g} V.")
    if e.regulator_max_v is not None and e.regulator_max_v < e.out_v + e.drop_v:
        words = f"It cannot take less than the {e.out_v + e.drop_v:g} V it needs."
        raise DomainError("equipment.regulator_max_v", words)


def _bursts(e: Equipment) -> None:
    if e.burst_a is None:
        return
    if e.burst_s >= e.burst_every_s:
        words = f"A burst of {e.burst_s:g} s does not fit into every {e.burst_every_s:g} s."
        raise DomainError("equipment.burst_every_s", words)
    mean_a = e.mean_a
    if e.burst_a < mean_a:
        words = f"Bursts of {e.burst_a:g} A cannot be below the average of {mean_a:.3g} A."
        raise DomainError("equipment.burst_a", words)
    alone_a = e.burst_a * e.burst_s / e.burst_every_s
    if alone_a > mean_a:
        words = f"Such bursts alone average {alone_a:.3g} A, more than {mean_a:.3g} A."
        raise DomainError("equipment.burst_every_s", words)
