"""The one figure that would narrow the answer most, and how to get it."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.trial.job import Job


@dataclass(frozen=True, slots=True)
class Narrowing:
    """The question that is worth most, by its field of the job; what it would tell, and how to get it."""

    field: str
    sentence: str


def narrowing(job: Job) -> Narrowing | None:
    """What to find out next: the minutes while nothing told the average, then the peak; None when both are
    known. The average decides the minutes of every pack, the peak which of them may carry it."""
    if job.is_assumed("draw.average_a"):
        return Narrowing(
            "draw.average_a",
            "The minutes of one run would narrow this most: start a timer, land when it gets weak or the "
            "alarm sounds, and note the minutes; better still, what the charger then puts back.",
        )
    if job.is_assumed("draw.peak_a"):
        return Narrowing(
            "draw.peak_a",
            "The peak would narrow this most: a watt meter between pack and controller, full stick for a few "
            "seconds on a full pack.",
        )
    return None
