"""What a model can be, and what is typical for each kind where its owner has no figure.

Watts per kg, the ratio of peak to average, and how the peak comes are general knowledge of the hobby,
none read from a source: house figures with wide ranges. They fill what nobody told, are marked as
assumed, and give way to any figure that somebody gives.
"""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.draw.motion import MotionId
from coldstack.core.errors import DomainError


@dataclass(frozen=True, slots=True)
class ModelKind:
    """One kind of model.

    ``average_w_per_kg`` is what it draws all up in gentle use; the peak is ``peak_ratio`` times the
    average amps, for ``peak_s`` about every ``peak_every_s``; ``motors`` is how many it has if its owner
    does not say.
    """

    id: str
    name: str
    motion: MotionId
    average_w_per_kg: float
    peak_ratio: float
    peak_s: float
    peak_every_s: float
    motors: int
    example: str


MODEL_KINDS: dict[str, ModelKind] = {
    k.id: k
    for k in (
        ModelKind("plane", "aeroplane", "level_flight", 75, 3.0, 5, 40, 1, "trainer, sport, scale, indoor"),
        ModelKind("sailplane", "sailplane", "level_flight", 30, 4.5, 10, 90, 1, "motor glider, hotliner"),
        ModelKind("jet", "ducted fan", "level_flight", 180, 1.8, 10, 40, 1, "fan jet"),
        ModelKind("multirotor", "multirotor", "hover", 160, 2.5, 3, 30, 4, "racer, camera, long range"),
        ModelKind("helicopter", "helicopter", "hover", 130, 3.0, 3, 30, 1, "sport, scale"),
        ModelKind("car", "car", "wheels", 60, 3.0, 2, 10, 1, "buggy, racer, on-road"),
        ModelKind("truck", "truck or crawler", "wheels", 25, 3.5, 3, 20, 1, "lorry, trail, crawler"),
        ModelKind("tracked", "tracked vehicle", "tracks", 20, 2.6, 8, 60, 1, "tank, sled, digger"),
        ModelKind("boat", "boat", "hull", 15, 3.0, 10, 60, 1, "tug, bait boat, yacht auxiliary"),
    )
}


def model_kind(kind_id: str) -> ModelKind:
    """The kind with this id; raises DomainError for an unknown one."""
    if kind_id not in MODEL_KINDS:
        raise DomainError("kind", f"Choose what it is: {', '.join(k.name for k in MODEL_KINDS.values())}.")
    return MODEL_KINDS[kind_id]
