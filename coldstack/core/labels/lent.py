"""A friend's pack told in one line: the tag it bears, and its label."""

from __future__ import annotations

import re

from coldstack.core.errors import DomainError
from coldstack.core.labels.offers import Offer, read_offers
from coldstack.core.labels.reader import read_label
from coldstack.core.packs.pack import Pack

_TAG = re.compile(r"^[\w./#-]{1,12}$")
AS_LARGE = 0.02
"""A pack that comes again is taken for the one that was here where its capacity differs by less. House
figure."""
EXAMPLE = "K3 3S 2200 40C XT60"


def read_lent(line: str) -> tuple[str, Offer]:
    """The tag, empty where the line begins with the label, and the pack.

    Raises
    ------
    DomainError
        For a line that is none, or of which no pack can be made.
    """
    words = line.split()
    if not words:
        raise DomainError("line", f"Say it in one line, like “{EXAMPLE}”.")
    first, rest = words[0], " ".join(words[1:])
    tagged = bool(rest) and _TAG.match(first) is not None and not _tells(first)
    found = read_offers(rest if tagged else line)
    if not found or found[0].lacking:
        lacks = found[0].lacking if found else "Nothing found in it."
        raise DomainError("line", f"{lacks} Say it like “{EXAMPLE}”.")
    return first if tagged else "", found[0]


def _tells(word: str) -> bool:
    """Whether a word is a figure of a label; a number alone is a tag, if cells and capacity come after it."""
    return any(said != "assumed" for said in read_label(word).words.values())


def is_the_same(known: Pack, told: Pack) -> bool:
    """Whether a pack told in one line is the one that was here under its tag."""
    alike = (known.chemistry, known.series) == (told.chemistry, told.series)
    return alike and abs(known.capacity_ah / told.capacity_ah - 1) < AS_LARGE
