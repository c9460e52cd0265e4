"""Everything that one round of the watch has to judge by."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from coldstack.core.watching.expected import Expected
from coldstack.core.watching.samples import Reading, Sample

LOOK_BACK_S = 600.0
"""Rules look back so far, in the charge's own time, however many samples that are."""
APART_S = 1.0
"""Of samples that come faster, one in so many seconds is kept to look back to; each is judged as it comes."""


@dataclass(frozen=True, slots=True)
class Mark:
    """The charger's clock beside ours. [s]"""

    ours_s: float
    theirs_s: float


@dataclass(frozen=True, slots=True)
class Heard:
    """What was heard of a charge until now.

    ``first`` is its first sample, ``window`` those of the last minutes, the oldest first (`windowed`);
    ``fresh`` is all that came since the round before, believed or not. ``now_s`` is the charge's own time,
    ``silent_s`` how long the charger has said nothing, ``doubt_s`` for how much of its own time it has said
    nothing believable, and ``doubt`` what was not. ``clock`` sets its clock beside ours, ``speed`` times as
    fast by its own word.
    """

    expected: Expected
    first: Sample | None
    window: tuple[Sample, ...]
    fresh: tuple[Reading, ...]
    looked_s: float
    now_s: float
    silent_s: float = 0.0
    doubt_s: float = 0.0
    doubt: str = ""
    clock: tuple[Mark, ...] = ()
    speed: float = 1.0

    @property
    def last(self) -> Sample | None:
        """The sample that was believed last."""
        return self.window[-1] if self.window else None

    def since(self, seconds: float) -> tuple[Sample, ...]:
        """The samples of the last so many seconds, of the charge's own time."""
        if not self.window:
            return ()
        begin_s = self.window[-1].time_s - seconds
        return tuple(s for s in self.window if s.time_s >= begin_s)


def windowed(before: Iterable[Sample], more: Iterable[Sample]) -> list[Sample]:
    """What is looked back to once more samples have come: of the last `LOOK_BACK_S`, about one in each
    `APART_S`, and always the latest two."""
    kept = list(before)
    for one in more:
        if len(kept) > 2 and kept[-2].time_s - kept[-3].time_s < APART_S:
            del kept[-2]
        kept.append(one)
    begin_s = kept[-1].time_s - LOOK_BACK_S if kept else 0.0
    return [s for s in kept if s.time_s >= begin_s]
