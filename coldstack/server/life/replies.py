"""A pack as it is now, the same in every reply that tells of one."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from pydantic import BaseModel

from coldstack.core.asking.question import Question
from coldstack.core.asking.runs import slips_in_run
from coldstack.core.life.events import By, Ended, EventKind
from coldstack.core.life.now import Act, PackState, Permission
from coldstack.core.packs.health import Level
from coldstack.core.packs.keys import owned_key
from coldstack.core.readings.cells import State, example_cells, highest_possible_v
from coldstack.server.gear.assemble import OWNED_FIGURES, pack_of
from coldstack.server.gear.models import RcModel
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
    question: Question | None
    """Asked of its minutes or of what went back; until it is answered the run teaches nothing."""


def run_told(row: Event, average_a: float | None) -> dict[str, Any]:
    """The fields of `PastRun`, in a model that draws so much on average; the row's pack is at hand. [A]"""
    return {
        "at": row.at,
        "minutes": row.minutes or 0.0,
        "put_back_mah": row.mah,
        "landing_cell_v": row.landing_cell_v,
        "note": row.text,
        "question": question_of(row, average_a),
    }


def question_of(row: Event, average_a: float | None) -> Question | None:
    """What to ask of a run's minutes, or of what a charge put back after it; nothing once somebody was
    sure."""
    if row.sure:
        return None
    pack = pack_of({f: getattr(row.pack, f) for f in OWNED_FIGURES}, owned_key(row.pack.tag))
    asked = slips_in_run(pack, average_a=average_a, minutes=row.minutes, put_back_mah=row.mah)
    return asked[0] if asked else None


def averages() -> dict[str, float]:
    """What each model draws on average, by its address; one query. [A]"""
    return {slug: job["draw"]["average_a"] for slug, job in RcModel.objects.values_list("slug", "job")}


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
