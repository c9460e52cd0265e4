"""The words of a label that name something: its chemistry, its plugs, the size of its cells, its wire."""

from __future__ import annotations

import re

from coldstack.core.cells.chemistry import CHEMISTRIES
from coldstack.core.chain.own_plugs import own_plugs
from coldstack.core.chain.plugs import PLUGS
from coldstack.core.labels.text import Text, number


def read_chemistry(text: Text) -> None:
    """Every chemistry named; two that exclude each other are both kept, so that they are reported."""
    found: list[tuple[str, str]] = []
    half = re.search(r"\bli[\s-]*po[\s-]+(?:[hv][a-z]?|[a-z][hv])\b(?<!hv)(?<!vh)", text.rest, re.I)
    if half:
        text.asked["chemistry"] = f"“{half.group()}”: is it LiPo, or LiHV with 4.35 V a cell when full?"
    for cell in reversed(CHEMISTRIES.values()):
        found += [(cell.id, m.group()) for m in text.take(cell.words, lambda m: {}, every=True)]
    names = {name for name, _ in found}
    special = next((c for c in reversed(CHEMISTRIES.values()) if c.kin and c.id in names), None)
    for name, words in found:
        if special is None or name not in special.kin:
            text.note({"chemistry": name}, words)


_TAIL = r"(?:-?[a-z](?![a-z0-9])|[a-z]{2,3}(?![a-z0-9]))?(?![a-z0-9])"
"""Letters that makers hang on a size for a cover, a solder cup or a half."""
_JST = r"(?:jst[\s-]*)?"
_PLUG = r"[\s-]*(?:plugs?|connectors?|style|type|shaped?)"
_MM = r"[.,]?0?\s*mm"


def _bullets(size: str, plug: str) -> tuple[tuple[str, str], ...]:
    kind = r"\s*(?:gold(?:en)?\s*|round\s*)?(?:bullets?|bullet[\s-]*connectors?)\b"
    return (
        (rf"(?<!\d)(?<!\d[.,]){size}\s*mm{kind}", plug),
        (rf"\bbullets?(?:[\s-]*connectors?)?\s*(?:of\s*|,\s*)?{size}\s*(?:mm\b)", plug),
    )


def _numbered(kind: str) -> list[str]:
    """The numbers of the families that are called by a kind and a number."""
    return [plug.removeprefix(kind) for plug in PLUGS if re.fullmatch(rf"{kind}\d+", plug)]


_PLUGS: tuple[tuple[str, str], ...] = (
    (r"\bintegrated[\s-]*balanc(?:e|ing)(?:[\s-]*plug)?\b", "integrated"),
    *((rf"\bxt[\s-]?{size}{_TAIL}", f"xt{size}") for size in _numbered("xt")),
    *((rf"\bec[\s-]?{size}{_TAIL}", f"ec{size}") for size in _numbered("ec")),
    (rf"\bas[\s-]?150{_TAIL}", "as150"),
    (rf"\bqs[\s-]?8{_TAIL}", "qs8"),
    (rf"\bt{_PLUG}(?:{_PLUG})?\b", "t_plug"),
    (rf"\b{_JST}(?:rcy|syp)\b|\bred\s*jst\b|\bjst[\s-]*red\b", "rcy"),
    (rf"\bjst[\s-]*sm\b|\bsm{_PLUG}\b", "sm"),
    (
        rf"\b{_JST}ph[\s-]*2(?:[.,]0)?(?:\s*mm)?(?![\d.,]|\w)|\bjst[\s-]*ph\b(?![\s-]*\d)|"
        rf"\bjst[\s-]*2[.,]0(?:\s*mm)?(?!\d)|\bjst[\s-]*2\s*mm\b",
        "ph_2",
    ),
    *_bullets(r"2(?:[.,]0)?", "bullet_2"),
    *_bullets(r"3[.,]5", "bullet_3_5"),
    *_bullets(r"4(?:[.,]0)?", "bullet_4"),
    *_bullets(r"5(?:[.,]0)?", "bullet_5"),
    *_bullets(r"5[.,]5", "bullet_5_5"),
    *_bullets(r"6(?:[.,]0)?", "bullet_6"),
    *_bullets(r"6[.,]5", "bullet_6_5"),
    *_bullets(r"8(?:[.,]0)?", "bullet_8"),
    (r"\b4\s*mm\s*bananas?(?:[\s-]*plugs?)?\b", "banana_4"),
    (r"\b(?:small|mini)\s*white\s*(?:(?:two|2)[\s-]*pin\s*)?(?:block|plug|connector)\b", "block_small"),
    (
        r"\b(?:(?:large|big)\s*)?white\s*(?:(?:two|2)[\s-]*pin\s*)?(?:block|plug|connector)\b|"
        r"\b(?:two|2)[\s-]*pin\s*white(?:\s*(?:block|plug|connector))?\b",
        "block_large",
    ),
    (r"\b(?:six[\s-]*pin\s*)?m6\b", "m6"),
)
_BALANCE = (
    (rf"\b{_JST}xh(?:[\s-]*2[.,]5\d?)?(?:\s*mm)?(?![\d.,]|\w)", "xh"),
    (rf"\b{_JST}eh(?:[\s-]*2[.,]5\d?)?(?:\s*mm)?(?![\d.,]|\w)", "eh"),
    (r"\b(?:tp|pq)(?:\s*/\s*(?:tp|pq))?\b", "tp"),
)
CELL_SIZES = r"18650|21700|26650|20700|18350|16340|14500|14430|26700|32650|32700|46800"


def read_plugs(text: Text) -> None:
    """Main plug and balance plug. A word that is no known spelling is left where it stands."""
    # a three-pole or signal-pin version is another plug: "XT30(2+2)"
    text.take(
        r"\bxt[\s-]?\d+\s*\(?\d\s*\+\s*\d\)?",
        lambda m: (
            text.asked.update(plug=f"“{m.group()}” has more pins than the plain plug: choose what it is.")
            or {}
        ),
    )
    for pattern, plug in _PLUGS:
        _name(text, pattern, "plug", plug)
    for own in own_plugs().values():
        _name(text, rf"(?<!\w){re.escape(own.name)}(?!\w)", "plug", own.id)
    for pattern, family in _BALANCE:
        _name(text, pattern, "balance_plug", family)


def _name(text: Text, pattern: str, field: str, value: str) -> None:
    """Take every spelling of a name."""
    text.take(pattern, lambda m: {field: value}, every=True)


def read_sizes_of_cells(text: Text) -> None:
    """Sizes such as 2/3A, 4/5 SC or 21700: names that look like figures, and must not become amps or mAh."""
    text.take(r"(?<!\d)(?<!\d[.,])\d\s*/\s*\d\s*(?:aaa|aa|af|a|sub[\s-]*c|sc|c)\b", _size)
    text.take(r"\bsub[\s-]*c\b|(?<![\w-])aaa?(?![\w-])", _size)
    text.take(rf"(?<!\d)(?<!\d[.,])(?:{CELL_SIZES})(?:\s*cells?)?(?![\d.,]|\s*m\.?\s?a)", _size)


def read_foreign_amps(text: Text) -> None:
    """Amps of something that is no pack, named beside them."""
    thing = r"(?:u?bec|esc|fuse|motor|servos?|controller|charger|regulator)"
    text.take(
        rf"(?<!\d)(?<!\d[.,])\d+(?:[.,]\d+)?\s*a(?:mps?)?\s*{thing}\b|"
        rf"\b{thing}\s*\d+(?:[.,]\d+)?\s*a(?:mps?)?\b",
        lambda m: {},
        every=True,
    )


def read_wire(text: Text) -> None:
    """Gauge of the leads."""
    text.take(
        r"(?<!\d)(?<!\d[.,])(\d{1,2})\s*(?:awg|ga(?:uge)?)\b|\bawg[\s:#-]*(\d{1,2})\b",
        lambda m: {"lead_awg": number(m[1] or m[2])},
    )


def _size(match: re.Match[str]) -> dict[str, float | str]:
    return {"cell_size": match.group().strip()}


FILLERS = (
    r"\b(?:rechargeable|batter(?:y|ies)|packs?|plugs?|connectors?|leads?|wires?|balance|balancer|cells?"
    r"|rc|the|with|and|or|for|from|of|at|up|to|capacity|nominal|rating|rate|weight|mass|size|dimensions?"
    r"|price|only|each|approx|about|ca|hard[\s-]*case|soft[\s-]*case)\b\.?"
)
"""Words that say nothing of their own."""
