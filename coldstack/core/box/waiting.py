"""Chargers: how long the whole box takes, which pack waits longest, what a port more would save."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace


@dataclass(frozen=True, slots=True)
class Ports:
    """A charger with its ports."""

    id: str
    name: str
    ports: int


@dataclass(frozen=True, slots=True)
class Waits:
    """All packs charged from their landing points: when the last is full, which that is and on what; minutes
    that it waits for a port before. [min]"""

    done_min: float
    last: str
    on: str
    waits_min: float


@dataclass(frozen=True, slots=True)
class OnePortMore:
    """A charger with one port more: by how much sooner all is done. [min]"""

    charger: str
    saves_min: float


Takes = Sequence[Sequence[float | None]]
"""Minutes of each pack on each charger, alone on it; None where it cannot be."""


def whole_box(packs: Sequence[str], chargers: Sequence[Ports], takes: Takes) -> Waits | None:
    """All packs in turn: the longest first, each where it is full soonest. None where nothing can be charged.

    A list schedule: within a third of the best there is. Watts that ports share are left out, so that it is
    rather too short than too long.
    """
    free = [[0.0] * c.ports for c in chargers]
    order = sorted(
        (k for k in range(len(packs)) if any(t is not None for t in takes[k])),
        key=lambda k: (-min(t for t in takes[k] if t is not None), packs[k]),
    )
    latest: Waits | None = None
    for k in order:
        done, at = min((min(free[c]) + t, c) for c, t in enumerate(takes[k]) if t is not None)
        begins = min(free[at])
        free[at][free[at].index(begins)] = done
        if latest is None or done > latest.done_min:
            latest = Waits(done, packs[k], chargers[at].name, begins)
    return latest


def one_port_more(packs: Sequence[str], chargers: Sequence[Ports], takes: Takes) -> OnePortMore | None:
    """The charger whose second, or next, port would save most; None where none saves a minute."""
    now = whole_box(packs, chargers, takes)
    if now is None:
        return None
    best: OnePortMore | None = None
    for at, c in enumerate(chargers):
        more = [*chargers[:at], replace(c, ports=c.ports + 1), *chargers[at + 1 :]]
        then = whole_box(packs, more, takes)
        saves = 0.0 if then is None else now.done_min - then.done_min
        if saves >= 1 and (best is None or saves > best.saves_min):
            best = OnePortMore(c.name, saves)
    return best


def only_on(packs: Sequence[str], chargers: Sequence[Ports], takes: Takes) -> list[tuple[str, str]]:
    """Packs that one charger alone can charge, with its name."""
    return [
        (packs[k], chargers[able[0]].name)
        for k in range(len(packs))
        if len(able := [c for c, t in enumerate(takes[k]) if t is not None]) == 1
    ]
