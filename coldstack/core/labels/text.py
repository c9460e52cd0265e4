"""A label while it is read: what was taken is blanked out, so that nothing is read twice."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable
from dataclasses import dataclass, field

from coldstack.core.labels.reading import LabelFinding

LONGEST_LABEL = 400
"""Characters of a label that are read; more is no label."""
TAKEN = "¦"
"""Stands where something was read: no white space, so that what stood apart is not joined."""
NUMBER = r"(?<!\d)(?<!\d[.,])(\d+(?:[.,]\d+)?)"
"""A number as printed, with a point or a comma, that does not begin inside another one."""
_JOINED = re.compile(
    r"(?<=\d[sp])[-_/](?=\d)|(?<=\d{4})[-_/](?=\d{1,3}\s*c)|(?<=[3-9]\d\d)[-_/](?=\d{1,3}\s*c)|"
    r"(?<=\d{3})[-_/](?=\d{1,2}\s*s)|_",
    re.I,
)
"""Signs that join what stands apart: "3S-2200-35C"."""
_DASHES = re.compile(r"[‐‑‒–—−]")

Found = dict[str, float | str]


@dataclass(slots=True)
class Text:
    """What is left of the label, what was found so far, and what has to be asked (by field)."""

    rest: str
    seen: list[LabelFinding] = field(default_factory=list)
    asked: dict[str, str] = field(default_factory=dict)

    @classmethod
    def of(cls, line: str) -> Text:
        """One line with plain digits, blanks and dashes; thin and odd spaces become plain ones."""
        # superscripts and the like keep their meaning apart: only full-width forms are folded
        folded = "".join(_plain(c) for c in line[:LONGEST_LABEL])
        return cls(_JOINED.sub(" ", _DASHES.sub("-", folded)).replace("Ω", "ohm"))

    def take(
        self, pattern: str, use: Callable[[re.Match[str]], Found], *, every: bool = False
    ) -> list[re.Match[str]]:
        """Read the first match (or every one), and blank it out; the matches."""
        matches = list(re.finditer(pattern, self.rest, re.I))
        taken = matches if every else matches[:1]
        for match in taken:
            self.note(use(match), match.group())
            self.blank(*match.span())
        return taken

    def note(self, values: Found, words: str) -> None:
        """Keep what was found under the words it was found in."""
        self.seen += [
            LabelFinding(name, value, words.strip(f" ,;:/{TAKEN}")) for name, value in values.items()
        ]

    def blank(self, start: int, end: int) -> None:
        """Take a stretch out of what is left."""
        self.rest = self.rest[:start] + TAKEN * (end - start) + self.rest[end:]

    def has(self, name: str) -> bool:
        """Whether a field was found by now."""
        return any(s.name == name for s in self.seen)

    def left(self) -> list[str]:
        """The words that nothing was made of."""
        return [w for w in re.findall(rf"[^\s,;:/|(){TAKEN}]+", self.rest) if len(w) > 1 or w.isdigit()]


def number(text: str) -> float:
    """A printed number; the comma is a decimal comma."""
    return float(text.replace(",", "."))


def _plain(char: str) -> str:
    if char.isspace():
        return " "
    if "！" <= char <= "～":
        return unicodedata.normalize("NFKC", char)
    return char if not char.isdigit() or char in "0123456789" else "?"
