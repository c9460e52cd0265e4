"""What beside a motor a pack can serve: radio, receiver, ignition, goggles, lights, tools at the bench. Usual
figures of each, from general knowledge, none read from a source; the maker's sheet wins."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.errors import DomainError

IN_THE_AIR, ON_THE_GROUND = 0.5, 0.8
"""Of what a pack lasts, what is used: no receiver pack is run to where a motor pack lands. House figures."""


@dataclass(frozen=True, slots=True)
class EquipmentKind:
    """One kind: its usual load in watts or amps with the bursts, the volts that it mostly accepts, hours a
    day, how much of what a pack lasts is used, and which chemistries suit it, best first."""

    id: str
    name: str
    amps: float | None
    watts: float | None
    burst_a: float | None
    volts: tuple[float, float]
    hours: float
    used_share: float
    chemistries: tuple[str, ...]
    air_c: float = 5.0


USUAL_PLUG, USUAL_AWG = "t_plug", 20.0
"""Where nobody said. [AWG]"""
CALM = ("lifepo4", "liion", "lipo", "nimh")
"""What people like for small loads over hours: robust, at low volts."""
EQUIPMENT_KINDS: dict[str, EquipmentKind] = {
    k.id: k
    for k in (
        EquipmentKind("receiver", "receiver and servos", 0.8, None, 5.0, (4.8, 8.5), 3, IN_THE_AIR, CALM),
        EquipmentKind("transmitter", "transmitter", 0.3, None, None, (6.0, 9.0), 6, ON_THE_GROUND, CALM),
        EquipmentKind("ignition", "ignition", 0.5, None, None, (4.8, 8.5), 3, IN_THE_AIR, CALM),
        EquipmentKind(
            "turbine", "fuel pump and engine computer", 3.0, None, 12.0, (6.0, 12.7), 0.5, IN_THE_AIR, CALM
        ),
        EquipmentKind("ground", "ground station", None, 12.0, None, (9.0, 17.0), 6, ON_THE_GROUND, CALM),
        EquipmentKind("goggles", "goggles", None, 8.0, None, (7.0, 25.5), 3, ON_THE_GROUND, CALM),
        EquipmentKind("lights", "lights", None, 6.0, None, (9.0, 13.0), 2, ON_THE_GROUND, CALM),
        EquipmentKind("bag", "heated bag", None, 40.0, None, (10.0, 15.0), 3, ON_THE_GROUND, CALM),
        EquipmentKind(
            "tool", "bench tool", None, 60.0, None, (11.0, 25.5), 1, ON_THE_GROUND, ("lipo", "liion"), 20.0
        ),
    )
}


def equipment_kind(kind_id: str) -> EquipmentKind:
    """The kind with this id; raises DomainError for an unknown one."""
    if kind_id not in EQUIPMENT_KINDS:
        names = ", ".join(k.name for k in EQUIPMENT_KINDS.values())
        raise DomainError("equipment.kind", f"Choose what it is: {names}.")
    return EQUIPMENT_KINDS[kind_id]
