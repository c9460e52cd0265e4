"""The life of a pack as events: what was done to it, read of it and said of it, each once, none ever lost.

Times are seconds since 1970 (UTC); nobody here asks a clock.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Annotated, Literal

from coldstack.core.fields.quantity import Quantity, Words
from coldstack.core.readings.cells import State

EventKind = Literal["reading", "inspection", "charging", "charge", "run", "state", "retirement", "note"]
By = Literal["hand", "checker", "charger", "file"]
Ended = Literal["", "done", "stopped", "danger"]
"""How a charge ended: not said, full, stopped before that, stopped as something was wrong with it."""

KINDS: tuple[EventKind, ...] = (
    "reading",
    "inspection",
    "charging",
    "charge",
    "run",
    "state",
    "retirement",
    "note",
)
"""In the order in which events of one and the same moment are taken."""
CLOCKS_APART_S = 300.0
"""A phone's clock and this machine's may differ by so much. House figure. [s]"""
A_DAY = Quantity("Minutes", unit="min", high=1440)


@dataclass(frozen=True, slots=True)
class Event:
    """One event; what was not measured or said is None or empty.

    ``key`` is its own: two with one key are one event, said twice. ``at`` is when it happened, ``said`` when
    it was told. ``cell_v`` at rest, before a charge or a run, or ``pack_v`` where only the whole was read;
    ``cell_mohm`` as read at ``temperature_c`` and
    charge ``soc``; ``mah`` put in by a charge, or put back after a run; ``capacity_ah`` what a whole charge
    would return; ``cycle`` the number of charges that somebody else's log counts; ``end_cell_v`` as the
    charger read them when it was done; ``steps`` of retiring that are ticked.
    """

    key: str
    at: float
    kind: EventKind
    said: float = math.inf
    by: By = "hand"
    cell_v: tuple[float, ...] = ()
    pack_v: Annotated[float | None, Quantity("Volts of the pack", unit="V", low=0.1, high=500)] = None
    end_cell_v: tuple[float, ...] = ()
    cell_mohm: tuple[float, ...] = ()
    temperature_c: Annotated[float | None, Quantity("Temperature", unit="°C", low=-60, high=150)] = None
    at_room: bool = False
    soc: Annotated[float | None, Quantity("Charge", high=1)] = None
    capacity_ah: Annotated[float | None, Quantity("Capacity", unit="Ah", low=1e-6, high=1000)] = None
    mah: Annotated[float | None, Quantity("What went in", unit="mAh", high=200_000)] = None
    minutes: Annotated[float | None, A_DAY] = None
    balance_min: Annotated[float | None, A_DAY] = None
    landing_cell_v: Annotated[float | None, Quantity("Cells at landing", unit="V", low=0.5, high=4.5)] = None
    state: State | Literal[""] = ""
    ended: Ended = ""
    signs: Annotated[tuple[str, ...], Words("Signs", most=10)] = ()
    steps: Annotated[tuple[str, ...], Words("Steps", most=10)] = ()
    charge: int | None = None
    model: Annotated[str, Words("Model", most=60)] = ""
    text: Annotated[str, Words("Note", most=300)] = ""
    sure: bool = False
    """Its figures were asked back, and are so."""
    cycle: Annotated[int | None, Quantity("Cycle", high=100_000)] = None
    hands: Annotated[str, Words("Whose hands", most=40)] = ""
    """Whose it was: a computer's or a phone's; empty where nobody's, or not known."""
    withdrawn: bool = False
    number: int = 0
    """Under which it is stored; 0 for one that is not."""


@dataclass(frozen=True, slots=True)
class EventOrder:
    """Events in the order in which they happened, and which of them do not count or came late.

    ``ahead``: dated after now though they were told before: a clock or a date was wrong. They are kept, and
    govern nothing until then. ``late``: told after something that happened later.
    """

    events: tuple[Event, ...]
    ahead: tuple[Event, ...]
    late: frozenset[str]
    gone: frozenset[str]
    """Keys of those that were withdrawn."""

    @property
    def until(self) -> float:
        """Until when this order stays as it is. [s]"""
        return min((e.at for e in self.ahead), default=math.inf) - CLOCKS_APART_S


def in_order(events: Iterable[Event], now: float) -> EventOrder:
    """The events that count at ``now``, however they came: each key once, none that was withdrawn."""
    by_key: dict[str, Event] = {}
    for e in events:
        known = by_key.get(e.key)
        # of two tellings of one event the first holds, and what was withdrawn stays so
        if known is None or _telling(e) < _telling(known):
            by_key[e.key] = e
    gone = frozenset(e.key for e in by_key.values() if e.withdrawn)
    standing = sorted((e for e in by_key.values() if not e.withdrawn), key=moment_of)
    counted = [e for e in standing if not _is_ahead(e, now)]
    ahead = tuple(e for e in standing if _is_ahead(e, now))
    return EventOrder(tuple(counted), ahead, _late(counted), gone)


def _telling(e: Event) -> tuple[object, ...]:
    return (not e.withdrawn, e.said, e.at, repr(e))


Moment = tuple[float, int, str]


def moment_of(e: Event) -> Moment:
    """By which events are in order: when, of one moment by what it is, then by its key. [s since 1970]"""
    return e.at, KINDS.index(e.kind), e.key


def _is_ahead(e: Event, now: float) -> bool:
    """Dated after now, and not because the clock of this machine was set back since it was told."""
    told = e.said if math.isfinite(e.said) else now
    return e.at > max(now, told) + CLOCKS_APART_S


def _late(events: list[Event]) -> frozenset[str]:
    late, earliest = set(), math.inf
    for e in reversed(events):
        if math.isfinite(e.said):
            if e.said > earliest:
                late.add(e.key)
            earliest = min(earliest, e.said)
    return frozenset(late)
