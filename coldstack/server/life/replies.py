"""A pack as it is now, the same in every reply that tells of one."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from pydantic import BaseModel

from coldstack.core.life.events import By, Ended, EventKind
from coldstack.core.life.now import Act, PackState, Permission
from coldstack.core.packs.health import Level
from coldstack.core.readings.cells import State, example_cells, highest_possible_v
from coldstack.core.readings.typos import TypoQuestion, typo_in_put_back
from coldstack.server.life.models import Event
from coldstack.server.life.now import Standing, moment


class SignOut(BaseModel):
    """A sign that stands, and the event that told of it."""

    id: str
    event: int


class NowOut(BaseModel):
    """A pack now: its state in a word, how full it is and since when, the cells that still hold, its health
    and worst sign, why it is out of every use (empty if it is not), when somebody last looked at it and
    which signs stand, and what may be done with it."""

    state: PackState | None
    charge: State | None
    since: datetime | None
    cell_v: list[float]
    pack_v: float | None
    """Of a pack of which only the whole was read, whose cells are not known then."""
    cells_at: datetime | None
    cells_by: By | None
    lowest_soc: float | None
    level: Level
    sign: str
    bars: str
    looked_at: datetime | None
    signs: list[SignOut]
    example: str
    """How its volts could be typed."""
    series: int
    highest_v: float
    """What none of its cells can read."""
    may: dict[Act, Permission]


def now_fields(s: Standing) -> dict[str, Any]:
    """The fields of `NowOut` for a pack of the box."""
    now, life = s.now, s.now.told
    cells = now.reading
    return {
        "state": now.state,
        "charge": now.charge,
        "since": s.since,
        "cell_v": list(cells.cell_v) if cells and not cells.whole else [],
        "pack_v": cells.pack_v if cells and cells.whole else None,
        "cells_at": moment(life.cells_at) if cells else None,
        "cells_by": life.cells_by if cells else None,
        "lowest_soc": min(life.socs) if life.socs else None,
        "level": now.level,
        "sign": now.sign,
        "bars": now.bars,
        "looked_at": moment(now.looked_at),
        "signs": [SignOut(id=x, event=e.number) for x, e in life.signs.items()],
        "may": now.may,
        "series": s.pack.series,
        "highest_v": highest_possible_v(s.pack.chemistry),
        "example": example_cells(s.pack.chemistry, s.pack.series),
    }


class PastRun(BaseModel):
    """A run, as it was told."""

    at: datetime
    minutes: float
    put_back_mah: float | None
    landing_cell_v: float | None
    note: str
    question: TypoQuestion | None
    """Asked of what went back; until it is mended the run teaches nothing."""


def run_told(row: Event) -> dict[str, Any]:
    """The fields of `PastRun`; the row's pack is at hand."""
    return {
        "at": row.at,
        "minutes": row.minutes or 0.0,
        "put_back_mah": row.mah,
        "landing_cell_v": row.landing_cell_v,
        "note": row.text,
        "question": question_of(row),
    }


def question_of(row: Event) -> TypoQuestion | None:
    """What to ask of what a charge put back after a run."""
    return typo_in_put_back(row.mah, row.pack.chemistry, row.pack.capacity_ah) if row.mah else None


class EventOut(BaseModel):
    """One event of a pack's life, told in a sentence. ``flag`` says where its date does not fit; ``mine``
    that it can be taken back; ``hands`` whose it was, as in `ChangeOut`."""

    id: int
    at: datetime
    kind: EventKind
    by: By
    ended: Ended
    sentence: str
    flag: str
    mine: bool
    hands: str


class SaidOut(BaseModel):
    """The events of an act, to be taken back by, and what was done in words."""

    events: list[int]
    label: str
