"""What a shop offers, pasted: a line a pack, each read as a label, with what would stand in for what is
not said."""

from __future__ import annotations

import re
from dataclasses import dataclass

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.labels.checks import LIPO_ASSUMED
from coldstack.core.labels.guesses import guesses, pack_name
from coldstack.core.labels.reader import read_label
from coldstack.core.labels.reading import LabelReading
from coldstack.core.packs.pack import Pack

MOST_OFFERS = 200
NEEDED = ("series", "capacity_ah")
"""What an offer must say to be weighed; the rest is assumed in sight."""
ASSUMED = {"plug": "plug", "lead_awg": "leads", "mass_g": "mass"}
"""Fields of a pack for which a typical figure stands in, in words."""
_BULLET = re.compile(r"^\s*(?:[-*•·]|\(?\d{1,2}[.)])\s+")


@dataclass(frozen=True, slots=True)
class Offer:
    """One line: where it stood, its words, what was read, and the pack that it makes (empty where it
    cannot be one)."""

    line: int
    text: str
    reading: LabelReading
    pack: dict[str, float | str | list[str]]
    lacking: str

    @property
    def told(self) -> list[str]:
        """What contradicts what, and what a figure follows from; that LiPo is assumed stands among the
        assumed figures."""
        if self.lacking:
            return []
        said = (*self.reading.contradictions, *self.reading.filled)
        return [words for words in said if words != LIPO_ASSUMED]

    @property
    def assumed(self) -> list[str]:
        """What the line does not name and is assumed, in words: the chemistry among them."""
        if not self.pack:
            return []
        kind = chemistry(str(self.pack["chemistry"])).name
        kinds = [kind] if self.reading.words["chemistry"] == "assumed" else []
        return [*kinds, *(words for name, words in ASSUMED.items() if name not in self.reading.values)]


def read_offers(text: str) -> list[Offer]:
    """Every line that is not blank, taken apart; the marks of a list at its beginning are passed over.

    A line without cells or capacity makes no pack; ``lacking`` says so. Lines beyond MOST_OFFERS are left
    out.
    """
    lines = [(i, _BULLET.sub("", line).strip()) for i, line in enumerate(text.splitlines(), start=1)]
    return [_offer(i, line) for i, line in [x for x in lines if x[1]][:MOST_OFFERS]]


def _offer(number: int, line: str) -> Offer:
    reading = read_label(line.replace("\t", "  "))
    missing = [name for name in NEEDED if name not in reading.values]
    if missing:
        words = {"series": "cells in series", "capacity_ah": "capacity"}
        return Offer(
            number, line, reading, {}, f"No {' and no '.join(words[m] for m in missing)} found in it."
        )
    pack: dict[str, float | str | list[str]] = {
        name: value for name, value in reading.values.items() if name in Pack.__dataclass_fields__
    }
    stand_in = {name: guess.value for name, guess in guesses(reading).items()}
    for name in ASSUMED:
        if name not in pack and name in stand_in:
            pack[name] = stand_in[name]
    pack["assumed"] = [name for name in ASSUMED if name not in reading.values]
    pack["name"] = (pack_name(reading) or line)[:110]
    return Offer(number, line, reading, pack, "")
