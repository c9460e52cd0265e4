"""The hour of a run, asked back where it cannot well be."""

from __future__ import annotations

from collections.abc import Sequence

from coldstack.core.life.events import CLOCKS_APART_S, Event

TO_COME = "That is still to come: a run is told once it has landed."
CHARGED_AFTER = (
    "A charge of this pack ended after that. Was it run before that charge, or is the hour another one?"
)
ON_THE_CHARGER = "It was on the charger at that hour. When did it run?"


def odd_hour(events: Sequence[Event], at: float, now: float) -> str:
    """What to ask of a run that is said to have landed at ``at``; empty where nothing speaks against it.
    ``events`` in order. [s since 1970]"""
    if at > now + CLOCKS_APART_S:
        return TO_COME
    began: float | None = None
    for e in events:
        if e.kind == "charging":
            began = e.at
        elif e.kind == "charge":
            if began is not None and began < at < e.at:
                return ON_THE_CHARGER
            began = None
    if began is not None and at > began:
        return ON_THE_CHARGER
    charged = max((e.at for e in events if e.kind == "charge"), default=None)
    return CHARGED_AFTER if charged is not None and at < charged else ""
