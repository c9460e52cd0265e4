"""How a pack's plug meets the model's: as it is, by adapters that are owned, or by one to get."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.chain.adapters import Adapter, Path, coolest, made_adapter, paths
from coldstack.core.chain.plugs import Mating, PlugEnd, mating
from coldstack.core.packs.pack import Pack
from coldstack.core.trial.job import Job


@dataclass(frozen=True, slots=True)
class PlugWay:
    """From a pack's plug to the model's. ``path`` is how they meet with what is owned, None if nothing joins
    them; ``shown`` is that, or the way by one adapter to get."""

    meeting: Mating
    path: Path | None
    shown: Path

    @property
    def extra_mohm(self) -> float:
        """What the adapters resist. [mΩ]"""
        return self.shown.extra_mohm


def pack_end_in(job: Job, pack: Pack) -> PlugEnd:
    """The pack's plug in this model; where nobody said which it is, the model's own is assumed."""
    if "plug" in pack.assumed:
        return PlugEnd(job.electronics.plug, pack.plug_half)
    return pack.plug_end


def device_end(job: Job, pack_end: PlugEnd) -> PlugEnd:
    """The model's plug; where nobody said which it is, the one that the pack carries is assumed."""
    family = pack_end.family if job.is_assumed("electronics.plug") else job.electronics.plug
    return PlugEnd(family, "device")


def way_in(job: Job, pack_end: PlugEnd, pieces: tuple[Adapter, ...]) -> PlugWay:
    """How this end meets the model's, with what is owned: fewest adapters, then the coolest."""
    model_end = device_end(job, pack_end)
    path = owned_path(job, pack_end, pieces)
    return PlugWay(mating(pack_end, model_end), path, path or path_to_get(job, pack_end))


def owned_path(job: Job, pack_end: PlugEnd, pieces: tuple[Adapter, ...]) -> Path | None:
    """The way that what is owned offers: fewest adapters, then the coolest under the duty as measured.

    None if there is none.
    """
    found = paths(pack_end, device_end(job, pack_end), pieces)
    return coolest(found, rms_a=job.duty.rms_current_a, peak_a=job.duty.peak_current_a)


def path_to_get(job: Job, pack_end: PlugEnd) -> Path:
    """The way by one adapter that one would buy or make."""
    model_end = device_end(job, pack_end)
    return Path((made_adapter(pack_end, model_end),), (pack_end.family, model_end.family))
