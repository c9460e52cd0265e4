"""What is asked back of cells as they are typed."""

from __future__ import annotations

from contextlib import suppress

from pydantic import BaseModel

from coldstack.core.errors import DomainError
from coldstack.core.keeping.records import typed_resistances
from coldstack.core.readings.cells import highest_possible_v
from coldstack.core.readings.typed_volts import typed_volts
from coldstack.core.readings.typos import TypoQuestion, typo_in_cells, typo_in_resistances
from coldstack.server.life.now import standing_of


class TyposOut(BaseModel):
    """What to ask of typed volts and resistances; nothing of what cannot be understood, which is refused
    where it is kept."""

    cells: TypoQuestion | None
    mohm: TypoQuestion | None


def typos_out(tag: str, cells: str, mohm: str) -> TyposOut:
    """Whether these look like slips of the finger, beside each other and beside what was read before.

    Raises
    ------
    OwnedPack.DoesNotExist
        For an unknown tag.
    """
    s = standing_of(tag)
    asked = TyposOut(cells=None, mohm=None)
    with suppress(DomainError):
        now = typed_volts(cells, s.pack.series, highest_possible_v(s.pack.chemistry)).cell_v
        read = (r.rest_cell_v for r in reversed(s.now.told.records))
        before = next((v for v in read if v and v != now), ())
        asked.cells = typo_in_cells(now, before) if len(now) == s.pack.series else None
    with suppress(DomainError):
        asked.mohm = typo_in_resistances(typed_resistances(mohm, s.pack.series)) if mohm.strip() else None
    return asked
