"""Equipment that packs serve: its kinds with usual figures, and what a few answers come to."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from coldstack.core.equipment.equipment import Equipment, check_equipment
from coldstack.core.equipment.kinds import EQUIPMENT_KINDS, EquipmentKind, equipment_kind
from coldstack.core.sizing.headline import headline
from coldstack.core.sizing.plan import plan
from coldstack.core.units import minutes_words, plain_number
from coldstack.server.api.shapes import value_of
from coldstack.server.life.packs import stock
from coldstack.server.rules.assemble import house
from coldstack.server.sizing import schemas as s
from coldstack.server.sizing.assemble import job_of


class EquipmentAnswersIn(s.In):
    """What is told of equipment; what is left out is as usual for its kind, and named. ``plug`` its own."""

    name: Annotated[str, Field(max_length=80)] = ""
    equipment: s.EquipmentIn
    plug: str | None = None
    chemistries: Annotated[list[str], Field(max_length=10)] | None = None
    mass_g: float | None = None
    length_mm: float | None = None
    width_mm: float | None = None
    height_mm: float | None = None
    assumed: Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=30)] = []


class EquipmentKindOut(BaseModel):
    """A kind with its usual figures, to begin from: all of them assumed until somebody says otherwise."""

    id: str
    name: str
    equipment: s.EquipmentIn
    chemistries: list[str]


class ServedOut(BaseModel):
    """What follows: the job to keep, and the best of the packs at hand for it, in words."""

    job: s.JobIn
    description: str
    lasts: str
    window: str
    headline: str
    best: str | None


USUAL_PLUG, USUAL_AWG = "t_plug", 20.0


def equipment_kinds_out() -> list[EquipmentKindOut]:
    """In the order in which they are offered."""
    return [
        EquipmentKindOut(
            id=k.id,
            name=k.name,
            equipment=s.EquipmentIn.model_validate(usual(k), from_attributes=True),
            chemistries=list(k.chemistries),
        )
        for k in EQUIPMENT_KINDS.values()
    ]


def usual(kind: EquipmentKind) -> Equipment:
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


def served_out(data: EquipmentAnswersIn) -> ServedOut:
    """The job that follows from answers, and what of the packs at hand does it.

    Raises
    ------
    DomainError
        For answers that cannot be, naming the question.
    """
    e = check_equipment(value_of(Equipment, data.equipment))
    job_in = job_in_of(data, e)
    found = plan(job_of(job_in), stock())
    c = found.evaluation.candidates
    return ServedOut(
        job=job_in,
        description=description_of(e),
        lasts=lasts_words(e),
        window=window_words(e),
        headline=headline(found),
        best=c.ids[found.best] if found.best is not None else None,
    )


def job_in_of(data: EquipmentAnswersIn, e: Equipment) -> s.JobIn:
    """The job as it is kept: its draw is the equipment's, told again so that older parts can read it."""
    kind = equipment_kind(e.kind)
    wanted = list(data.chemistries or kind.chemistries)
    draft = s.JobIn.model_validate(
        {
            "name": data.name.strip() or kind.name,
            "motion": "steady_load",
            "mass_g": 1000,
            "house_rules": house().house_rules,
            "draw": {
                "average_a": 1,
                "peak_a": 1,
                "peak_s": 0,
                "peak_every_s": 60,
                "reference_voltage_v": 7.4,
                "reference_mass_g": 1000,
            },
            "wants": {"chemistries": wanted, "mass_g": data.mass_g},
            "electronics": {
                "max_v": e.pack_max_v,
                "min_v": e.pack_min_v,
                "cutoff": "none",
                "plug": data.plug or USUAL_PLUG,
                "lead_awg": USUAL_AWG,
            },
            "bay": {
                "length_mm": data.length_mm,
                "width_mm": data.width_mm,
                "height_mm": data.height_mm,
                "airflow": "closed",
                "air_c": kind.air_c,
            },
            "equipment": data.equipment.model_dump(),
            "assumed": [*data.assumed, *([] if data.plug else ["electronics.plug", "electronics.lead_awg"])],
        }
    )
    duty = job_of(draft).duty
    peak = max(duty.phases, key=lambda p: p.current_a)
    draft.draw = s.DrawIn(
        source="typed",
        source_note="its load",
        average_a=duty.average_current_a,
        peak_a=duty.peak_current_a,
        peak_s=peak.duration_s if len(duty.phases) > 1 else 0.0,
        peak_every_s=duty.cycle_s,
        reference_voltage_v=duty.reference_voltage_v,
        reference_mass_g=duty.reference_mass_g,
        spread=duty.spread,
    )
    return draft


def description_of(e: Equipment) -> str:
    """ "receiver and servos, 0.8 A for 6 h"."""
    load = f"{plain_number(e.load_a)} A" if e.load_a is not None else f"{plain_number(e.load_w or 0)} W"
    return f"{e.name}, {load} for {plain_number(e.hours)} h"


def lasts_words(e: Equipment) -> str:
    """How long a pack must last for the hours wanted, and why."""
    if e.used_share >= 1:
        return f"A pack must last {minutes_words(e.lasting_min)}."
    used = f"{100 * e.used_share:.0f} % is used, the rest kept in reserve"
    return f"A pack must last {minutes_words(e.lasting_min)}: of that {used}."


def window_words(e: Equipment) -> str:
    """Between which volts a pack may be, all through its discharge."""
    at = "at the device" if e.regulator == "none" else "before the regulator"
    low, high = plain_number(e.pack_min_v), plain_number(e.pack_max_v)
    return f"{low} V at the least under a burst, {high} V at the most when full, {at}."
