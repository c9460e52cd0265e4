"""Equipment that packs serve: its kinds with usual figures, and what a few answers come to."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from coldstack.core.equipment.equipment import (
    Equipment,
    assumed_figures,
    check_equipment,
    usual_equipment,
)
from coldstack.core.equipment.job import NO_MASS_G
from coldstack.core.equipment.kinds import EQUIPMENT_KINDS, USUAL_AWG, USUAL_PLUG, equipment_kind
from coldstack.core.equipment.words import description_of, lasts_words, window_words
from coldstack.core.sizing.headline import headline
from coldstack.core.sizing.plan import plan
from coldstack.core.units import upper_first
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
    assumed: list[str]


class ServedOut(BaseModel):
    """What follows: the job to keep, and the best of the packs at hand for it, in words."""

    job: s.JobIn
    description: str
    lasts: str
    window: str
    headline: str
    best: str | None


def equipment_kinds_out() -> list[EquipmentKindOut]:
    """In the order in which they are offered."""
    return [
        EquipmentKindOut(
            id=k.id,
            name=k.name,
            equipment=s.EquipmentIn.model_validate(usual, from_attributes=True),
            chemistries=list(k.chemistries),
            assumed=list(assumed_figures(usual)),
        )
        for k in EQUIPMENT_KINDS.values()
        for usual in [usual_equipment(k)]
    ]


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
    """The job as it is kept."""
    kind = equipment_kind(e.kind)
    return s.JobIn(
        name=data.name.strip() or upper_first(kind.name),
        motion="steady_load",
        mass_g=NO_MASS_G,
        house_rules=house().house_rules,
        draw=s.load_as_draw_in(data.equipment),
        wants=s.WantsIn.model_validate(
            {"chemistries": list(data.chemistries or kind.chemistries), "mass_g": data.mass_g}
        ),
        electronics=s.ElectronicsIn.model_validate(
            {
                "max_v": e.pack_max_v,
                "min_v": e.pack_min_v,
                "cutoff": "none",
                "plug": data.plug or USUAL_PLUG,
                "lead_awg": USUAL_AWG,
            }
        ),
        bay=s.BayIn.model_validate(
            {
                "length_mm": data.length_mm,
                "width_mm": data.width_mm,
                "height_mm": data.height_mm,
                "airflow": "closed",
                "air_c": kind.air_c,
            }
        ),
        equipment=data.equipment,
        assumed=[*data.assumed, *([] if data.plug else ["electronics.plug", "electronics.lead_awg"])],
    )
