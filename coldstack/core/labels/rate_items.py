"""What on a label may be a rate: figures with their units, and the words beside them."""

from __future__ import annotations

import difflib
import re
from dataclasses import dataclass, replace

from coldstack.core.cells.chemistry import CHEMISTRIES
from coldstack.core.labels.text import NUMBER, TAKEN, Text, number

LOWEST_LIPO_C = 8.0
"""A lone rate below this on a lithium polymer pack may as well be its charge rate: asked."""
RATE = rf"{NUMBER}\s*cc?(?![a-z°])"
TWO = rf"{NUMBER}\s?(?:cc?)?(?:/|-|~+|\+)(\d+(?:[.,]\d+)?)\s?cc?(?![a-z°])"
"""Two rates written as one: without blanks, which set apart what has nothing to do with each other."""
C_FIRST = r"(?<![a-z])c[\s-]*(?:rating|rate)\s*[:=]?\s*(\d+(?:[.,]\d+)?)(?!\s*[a-z\d.,/])"
AMPS = rf"{NUMBER}\s*(m)?a(?:mps?|mperes?)?(?![a-z]|\s*[·.*-]?\s*h\b)"
WORD = r"[a-zäöü]+"
BARE = r"(?<!\w)(?<!\d[.,])\d{1,3}(?![\w,])(?!\.\d)"
POLYMERS = frozenset(c.id for c in CHEMISTRIES.values() if c.polymer)
HIGHEST_C = 250.0
"""No cell gives more: a slip."""
_KINDS = {
    "charge": ("charge", "charging", "recharge", "charger", "laden", "ladestrom", "laderate"),
    "burst": ("burst", "peak", "pulse", "pulsed", "bursts", "impuls", "spitze"),
    "steady": (
        "continuous",
        "cont",
        "constant",
        "const",
        "sustained",
        "steady",
        "discharge",
        "discharging",
        "disch",
        "entladung",
        "entladestrom",
        "entladerate",
        "dauer",
    ),
    "most": ("max", "maximum", "upto", "up"),
}
KIND_OF = {word: kind for kind, words in _KINDS.items() for word in words}
_LONG = [word for word in KIND_OF if len(word) >= 5]
FILLER = frozenset(
    {
        "rate",
        "rating",
        "current",
        "speed",
        "up",
        "to",
        "at",
        "with",
        "of",
        "the",
        "is",
        "fast",
        "quick",
        "c",
        "strom",
    }
)


@dataclass(frozen=True, slots=True)
class Figure:
    """A rate (one or two figures of C), amps, or both of one thing; neither where a number lacks its unit."""

    words: str
    start: int
    end: int
    rates: tuple[float, ...] = ()
    amps: float | None = None
    milli: bool = False
    torn: bool = False
    """Joined to something before it that is no figure: "25n-50C"."""


@dataclass(frozen=True, slots=True)
class Key:
    """Words that say what a figure is for; ``colon`` where the figure must follow."""

    kind: str
    start: int
    end: int
    colon: bool = False


BAR = None
"""What separates: punctuation, an unknown word, or something read before."""


Item = Figure | Key | None


APART = re.compile(rf"{NUMBER}(\s+(?:/|-|~|to)\s*|\s*(?:/|-|~|to)\s+)(\d+(?:[.,]\d+)?)\s?cc?(?![a-z°])", re.I)
"""The same with blanks: only where the first has no C of its own and both can be rates of one pack."""


_TOKEN = re.compile(
    rf"(?P<two>{TWO})|(?P<first>{C_FIRST})|(?P<rate>{RATE})|(?P<amps>{AMPS})|"
    rf"(?P<bare>{BARE})|(?P<word>{WORD})\.?|(?P<sign>[:=(])|(?P<bar>[^\s\w.]|{TAKEN}+|\S)",
    re.I,
)


_TORN = re.compile(r"\d[a-z]{0,2}[-/~]$", re.I)


def set_apart(match: re.Match[str]) -> str:
    """ "25 ~ 50C" as one figure of the same length; what can be no pair of rates as it was."""
    low, high = number(match[1]), number(match[3])
    if not LOWEST_LIPO_C <= low < high <= 3 * low:
        return match.group()
    return match.group().replace(match[2], "~" * len(match[2]), 1)


def items_of(text: Text) -> list[Item]:
    items: list[Item] = []
    said: list[tuple[str, int, int]] = []
    colon = False

    def close() -> None:
        nonlocal said, colon
        if said:
            items.append(Key(_kind([kind for kind, _, _ in said]), said[0][1], said[-1][2], colon))
        said, colon = [], False

    for m in _TOKEN.finditer(text.rest):
        groups = m.groupdict()
        if groups["word"]:
            kind = word_kind(groups["word"].lower())
            if kind:
                said.append((kind, *m.span()))
                continue
            if groups["word"].lower() in FILLER:
                continue
            close()
            items.append(BAR)
        elif groups["sign"]:
            if groups["sign"] != "(":
                colon = bool(said)
            elif not said and items and isinstance(items[-1], Figure):
                items.append(Figure("(", m.start(), m.end()))  # joined to what follows, or dropped, below
        elif groups["bar"]:
            close()
            items.append(BAR)
        else:
            close()
            figure = _figure(m)
            torn = figure is not None and _TORN.search(text.rest[: m.start()]) is not None
            items.append(replace(figure, torn=True) if figure and torn else figure)
    close()
    return _joined(items)


def _joined(items: list[Item]) -> list[Item]:
    """ "2C (10A)" and "10A (2C)" are one figure said twice."""
    out: list[Item] = []
    for x in items:
        if isinstance(x, Figure) and len(out) > 1 and _is_open(out[-1]) and isinstance(out[-2], Figure):
            out.pop()
            first = out[-1]
            assert isinstance(first, Figure)
            if bool(first.rates) != bool(x.rates):
                out[-1] = Figure(
                    f"{first.words} ({x.words})",
                    first.start,
                    x.end,
                    first.rates or x.rates,
                    x.amps if first.rates else first.amps,
                    first.milli or x.milli,
                )
                continue
        out.append(x)
    return [x for x in out if not _is_open(x)]


def _is_open(x: Item) -> bool:
    return isinstance(x, Figure) and x.words == "("


def _figure(m: re.Match[str]) -> Figure | None:
    if m["bare"]:
        return Figure(m["bare"], m.start(), m.end()) if number(m["bare"]) <= HIGHEST_C else BAR
    figures = [g for g in m.groups()[1:] if g and re.fullmatch(r"\d+(?:[.,]\d+)?", g)]
    if m["amps"]:
        milli = bool(re.search(r"\dm|\d\s+m", m["amps"], re.I))
        return Figure(
            m.group().strip(),
            m.start(),
            m.end(),
            amps=number(figures[0]) / (1000 if milli else 1),
            milli=milli,
        )
    return Figure(m.group().strip(), m.start(), m.end(), tuple(number(f) for f in figures[:2]))


def word_kind(word: str) -> str:
    """What a word in lower case says a rate is for, one slip allowed; empty for any other word."""
    if word in KIND_OF:
        return KIND_OF[word]
    near = difflib.get_close_matches(word, _LONG, n=1, cutoff=0.8) if len(word) >= 4 else []
    return KIND_OF[near[0]] if near else ""


def _kind(said: list[str]) -> str:
    """One meaning of words that stand together: "max charge" is about charging, "max continuous"
    continuous."""
    kinds = set(said) - {"most"}
    if len(kinds) > 1:
        return "burst" if kinds == {"burst", "steady"} else "unclear"
    return kinds.pop() if kinds else "most"
