"""What a model can be, and how it moves; its class within the kind: `model_classes`."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.draw.motion import MotionId
from coldstack.core.errors import DomainError


@dataclass(frozen=True, slots=True)
class ModelKind:
    """One kind of model; ``motors`` is how many it has if its owner does not say."""

    id: str
    name: str
    motion: MotionId
    motors: int
    example: str


MODEL_KINDS: dict[str, ModelKind] = {
    k.id: k
    for k in (
        ModelKind("plane", "aeroplane", "level_flight", 1, "trainer, sport, scale, indoor"),
        ModelKind("sailplane", "sailplane", "level_flight", 1, "motor glider, hotliner"),
        ModelKind("jet", "ducted fan", "level_flight", 1, "fan jet"),
        ModelKind("multirotor", "multirotor", "hover", 4, "racer, camera, long range"),
        ModelKind("helicopter", "helicopter", "hover", 1, "sport, scale"),
        ModelKind("car", "car", "wheels", 1, "buggy, racer, on-road"),
        ModelKind("truck", "truck or crawler", "wheels", 1, "lorry, trail, crawler"),
        ModelKind("tracked", "tracked vehicle", "tracks", 1, "tank, sled, digger"),
        ModelKind("boat", "boat", "hull", 1, "tug, bait boat, yacht auxiliary"),
    )
}


def model_kind(kind_id: str) -> ModelKind:
    """The kind with this id; raises DomainError for an unknown one."""
    if kind_id not in MODEL_KINDS:
        raise DomainError("kind", f"Choose what it is: {', '.join(k.name for k in MODEL_KINDS.values())}.")
    return MODEL_KINDS[kind_id]
