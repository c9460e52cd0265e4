"""Rates and currents of a label: which of them is continuous, which burst, which for charging.

Each word such as *charge* or *burst* may belong to the figure before it or to the one after it. All ways
to give words their figures are weighed; where two ways are equally good and say different things, nobody
chooses: it is asked.
"""

from __future__ import annotations

import difflib
import itertools
import re
from dataclasses import dataclass, replace

from coldstack.core.labels.text import NUMBER, TAKEN, Found, Text, number

HIGHEST_CHARGE_C = 10.0
"""A charge rate above this is never taken without being asked."""
LOWEST_LIPO_C = 8.0
"""A lone rate below this on a lithium polymer pack may as well be its charge rate: asked."""
HIGHEST_C = 250.0
"""No cell gives more: a slip."""
MOST_BURST_SHARE = 3.2
"""A burst rate is hardly more than three times the continuous one: two rates further apart mean different
things."""
MOST_WORDS = 6
"""Words whose figures are sought; a label has three."""

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
_KIND_OF = {word: kind for kind, words in _KINDS.items() for word in words}
_LONG = [word for word in _KIND_OF if len(word) >= 5]
_FILLER = frozenset(
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
class _Figure:
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
class _Key:
    """Words that say what a figure is for; ``colon`` where the figure must follow."""

    kind: str
    start: int
    end: int
    colon: bool = False


_Bar = None
"""What separates: punctuation, an unknown word, or something read before."""
_Item = _Figure | _Key | None


def read_rates(text: Text) -> None:
    """Take every rate and current out of the label, each as what the words beside it say."""
    text.rest = _APART.sub(_close_up, text.rest)
    items = _items(text)
    ways = _ways(text, items)
    taken = max(ways, key=lambda w: w[0])[1]
    tied = _tied(ways, taken) | _beside_open_charge(items, taken)
    loose = [i for i, x in enumerate(items) if isinstance(x, _Figure) and i not in taken and i not in tied]
    for i in sorted(tied):
        _ask(text, items[i], "charge_c" if tied[i] == "charge" else "label_c")
    for i, kind in taken.items():
        if i not in tied:
            _keep(text, items[i], kind)
    for k, side in _keys_with_figures(items, taken):
        key = items[k]
        if isinstance(key, _Key) and k + side not in tied:
            text.blank(key.start, key.end)
    _keep_loose(
        text,
        [x for i in loose if isinstance(x := items[i], _Figure)],
        charge_named=_charge_open(items, taken),
    )


# ---- what stands on the label, in order

_RATE = rf"{NUMBER}\s*cc?(?![a-z°])"
_TWO = rf"{NUMBER}\s?(?:cc?)?(?:/|-|~+|\+)(\d+(?:[.,]\d+)?)\s?cc?(?![a-z°])"
"""Two rates written as one: without blanks, which set apart what has nothing to do with each other."""
_APART = re.compile(
    rf"{NUMBER}(\s+(?:/|-|~|to)\s*|\s*(?:/|-|~|to)\s+)(\d+(?:[.,]\d+)?)\s?cc?(?![a-z°])", re.I
)
"""The same with blanks: only where the first has no C of its own and both can be rates of one pack."""
_C_FIRST = r"(?<![a-z])c[\s-]*(?:rating|rate)\s*[:=]?\s*(\d+(?:[.,]\d+)?)(?!\s*[a-z\d.,/])"
_AMPS = rf"{NUMBER}\s*(m)?a(?:mps?|mperes?)?(?![a-z]|\s*[·.*-]?\s*h\b)"
_WORD = r"[a-zäöü]+"
_BARE = r"(?<!\w)(?<!\d[.,])\d{1,3}(?![\w,])(?!\.\d)"
_TOKEN = re.compile(
    rf"(?P<two>{_TWO})|(?P<first>{_C_FIRST})|(?P<rate>{_RATE})|(?P<amps>{_AMPS})|"
    rf"(?P<bare>{_BARE})|(?P<word>{_WORD})\.?|(?P<sign>[:=(])|(?P<bar>[^\s\w.]|{TAKEN}+|\S)",
    re.I,
)


_TORN = re.compile(r"\d[a-z]{0,2}[-/~]$", re.I)


def _close_up(match: re.Match[str]) -> str:
    """ "25 ~ 50C" as one figure of the same length; what can be no pair of rates as it was."""
    low, high = number(match[1]), number(match[3])
    if not LOWEST_LIPO_C <= low < high <= 3 * low:
        return match.group()
    return match.group().replace(match[2], "~" * len(match[2]), 1)


def _items(text: Text) -> list[_Item]:
    items: list[_Item] = []
    said: list[tuple[str, int, int]] = []
    colon = False

    def close() -> None:
        nonlocal said, colon
        if said:
            items.append(_Key(_kind([kind for kind, _, _ in said]), said[0][1], said[-1][2], colon))
        said, colon = [], False

    for m in _TOKEN.finditer(text.rest):
        groups = m.groupdict()
        if groups["word"]:
            kind = word_kind(groups["word"].lower())
            if kind:
                said.append((kind, *m.span()))
                continue
            if groups["word"].lower() in _FILLER:
                continue
            close()
            items.append(_Bar)
        elif groups["sign"]:
            if groups["sign"] != "(":
                colon = bool(said)
            elif not said and items and isinstance(items[-1], _Figure):
                items.append(_Figure("(", m.start(), m.end()))  # joined to what follows, or dropped, below
        elif groups["bar"]:
            close()
            items.append(_Bar)
        else:
            close()
            figure = _figure(m)
            torn = figure is not None and _TORN.search(text.rest[: m.start()]) is not None
            items.append(replace(figure, torn=True) if figure and torn else figure)
    close()
    return _joined(items)


def _joined(items: list[_Item]) -> list[_Item]:
    """ "2C (10A)" and "10A (2C)" are one figure said twice."""
    out: list[_Item] = []
    for x in items:
        if isinstance(x, _Figure) and len(out) > 1 and _is_open(out[-1]) and isinstance(out[-2], _Figure):
            out.pop()
            first = out[-1]
            assert isinstance(first, _Figure)
            if bool(first.rates) != bool(x.rates):
                out[-1] = _Figure(
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


def _is_open(x: _Item) -> bool:
    return isinstance(x, _Figure) and x.words == "("


def _figure(m: re.Match[str]) -> _Figure | None:
    if m["bare"]:
        return _Figure(m["bare"], m.start(), m.end()) if number(m["bare"]) <= HIGHEST_C else _Bar
    figures = [g for g in m.groups()[1:] if g and re.fullmatch(r"\d+(?:[.,]\d+)?", g)]
    if m["amps"]:
        milli = bool(re.search(r"\dm|\d\s+m", m["amps"], re.I))
        return _Figure(
            m.group().strip(),
            m.start(),
            m.end(),
            amps=number(figures[0]) / (1000 if milli else 1),
            milli=milli,
        )
    return _Figure(m.group().strip(), m.start(), m.end(), tuple(number(f) for f in figures[:2]))


def word_kind(word: str) -> str:
    """What a word in lower case says a rate is for, one slip allowed; empty for any other word."""
    if word in _KIND_OF:
        return _KIND_OF[word]
    near = difflib.get_close_matches(word, _LONG, n=1, cutoff=0.8) if len(word) >= 4 else []
    return _KIND_OF[near[0]] if near else ""


def _kind(said: list[str]) -> str:
    """One meaning of words that stand together: "max charge" is about charging, "max continuous"
    continuous."""
    kinds = set(said) - {"most"}
    if len(kinds) > 1:
        return "burst" if kinds == {"burst", "steady"} else "unclear"
    return kinds.pop() if kinds else "most"


# ---- which word has which figure


def _tied(ways: list[tuple[float, dict[int, str]]], best: dict[int, str]) -> dict[int, str]:
    """Figures that an equally good way would give to another word."""
    top = max(score for score, _ in ways)
    tied: dict[int, str] = {}
    for score, way in ways:
        if score == top:
            for i in {*way, *best}:
                if way.get(i) != best.get(i):
                    tied[i] = "charge" if "charge" in (way.get(i), best.get(i)) else "steady"
    return tied


def _beside_open_charge(items: list[_Item], taken: dict[int, str]) -> dict[int, str]:
    """Figures next to a word of charging that was given none: nobody knows what they are."""
    if not _charge_open(items, taken):
        return {}
    keys = [i for i, x in enumerate(items) if isinstance(x, _Key) and x.kind in ("charge", "unclear")]
    beside = {k + s for k in keys for s in (-1, 1) if isinstance(_at(items, k + s), _Figure)}
    return {i: "charge" for i in beside if i not in taken}


def _keys_with_figures(items: list[_Item], taken: dict[int, str]) -> list[tuple[int, int]]:
    """Words that have their figure, and on which side."""
    return [
        (k, side)
        for k, key in enumerate(items)
        if isinstance(key, _Key)
        for side in (-1, 1)
        if taken.get(k + side) == key.kind
    ]


def _ways(text: Text, items: list[_Item]) -> list[tuple[float, dict[int, str]]]:
    keys = [i for i, x in enumerate(items) if isinstance(x, _Key)][:MOST_WORDS]
    sides = [[s for s in (-1, 1) if isinstance(_at(items, k + s), _Figure)] for k in keys]
    ah = next((s.value for s in text.seen if s.name == "capacity_ah"), None)
    ways: list[tuple[float, dict[int, str]]] = []
    for chosen in itertools.product(*([*s, 0] for s in sides)):
        places = [k + s for k, s in zip(keys, chosen, strict=True) if s]
        if len(set(places)) < len(places):
            continue
        way = {
            k + s: key.kind
            for k, s in zip(keys, chosen, strict=True)
            if s and isinstance(key := items[k], _Key)
        }
        colons = sum(
            s < 0
            for k, s in zip(keys, chosen, strict=True)
            if isinstance(key := items[k], _Key) and key.colon
        )
        one_side = 3 if len({s for s in chosen if s}) == 1 and len(places) > 1 else 0
        bare = sum(1 for i in places if isinstance(f := items[i], _Figure) and not f.rates and f.amps is None)
        ways.append((10 * len(places) - 5 * bare - 25 * _wrong(items, way, ah) - 15 * colons + one_side, way))
    return ways or [(0.0, {})]


def _wrong(items: list[_Item], way: dict[int, str], ah: float | str | None) -> int:
    """How many things no label would say: a charge rate above ten or above the discharge, a burst below
    it."""
    rate = {i: _rate(x, ah) for i, x in enumerate(items) if isinstance(x, _Figure)}
    charge = [r for i, r in rate.items() if way.get(i) == "charge" and r]
    steady = [r for i, r in rate.items() if way.get(i) == "steady" and r]
    burst = [r for i, r in rate.items() if way.get(i) in ("burst", "most") and r]
    loose = [r for i, r in rate.items() if i not in way and r]
    wrong = sum(r > HIGHEST_CHARGE_C for r in charge)
    wrong += sum(c > s for c in charge for s in (*steady, *loose))
    wrong += sum(b < s for b in burst for s in (*steady, *(x for x in loose if x > HIGHEST_CHARGE_C)))
    return wrong


def _rate(figure: _Figure, ah: float | str | None) -> float | None:
    if figure.rates:
        return figure.rates[0]
    return figure.amps / ah if figure.amps and isinstance(ah, float) and ah > 0 else None


def _at(items: list[_Item], i: int) -> _Item:
    return items[i] if 0 <= i < len(items) else _Bar


def _charge_open(items: list[_Item], taken: dict[int, str]) -> bool:
    """Whether a word of charging found no figure: then a loose small rate may be its."""
    named = any(isinstance(x, _Key) and x.kind in ("charge", "unclear") for x in items)
    return named and "charge" not in taken.values()


# ---- into fields


def _keep(text: Text, item: _Item, kind: str) -> None:
    assert isinstance(item, _Figure)
    rates = item.rates
    if kind == "charge" and not rates and item.amps is None:
        _ask(text, item, "charge_c")
        return
    if kind == "charge":
        values: Found = {} if item.amps is None else {"charge_a": item.amps}
        if rates and max(rates) > HIGHEST_CHARGE_C:
            _ask(text, item, "charge_c")
            return
        if len(rates) > 1:
            text.asked["charge_c"] = f"“{item.words}”: the lower of the two is taken."
        if rates:
            values["charge_c"] = min(rates)
    elif kind == "unclear" or item.milli or item.torn or (not rates and item.amps is None):
        _ask(text, item, "label_c")
        return
    elif len(rates) == 2:
        values = {"label_c": rates[0], "label_burst_c": rates[1]}
    else:
        values = _of_one(item, steady=kind == "steady")
    _take(text, item, values)


def _of_one(item: _Figure, *, steady: bool) -> Found:
    """One rate, one current or both, continuous or burst."""
    found: Found = {}
    if item.rates:
        found["label_c" if steady else "label_burst_c"] = item.rates[0]
    if item.amps is not None:
        found["continuous_a" if steady else "burst_a"] = item.amps
    return found


def _keep_loose(text: Text, loose: list[_Figure], *, charge_named: bool) -> None:
    """Figures without a word: the first is continuous, a second one above it burst."""
    chemistry = next((s.value for s in text.seen if s.name == "chemistry"), "lipo")
    single = [x.rates[0] for x in loose if len(x.rates) == 1]
    unlike = len(single) > 1 and max(single) > MOST_BURST_SHARE * min(single)
    for item in loose:
        if item.milli:  # "2200 mA" is a slip of mAh as often as a current
            if not text.has("capacity_ah"):
                text.asked["capacity_ah"] = f"“{item.words}”: is it the capacity, in mAh?"
            continue
        if item.torn:
            _ask(text, item, "label_c")
            continue
        c_free = not text.has("label_c") and "label_c" not in text.asked
        a_free = not text.has("continuous_a")
        small = bool(item.rates) and max(item.rates) < LOWEST_LIPO_C
        mixed = len(item.rates) == 2 and item.rates[0] < LOWEST_LIPO_C and item.rates[1] > 3 * item.rates[0]
        lithium_polymer = chemistry in ("lipo", "lihv")
        if item.rates and (
            max(item.rates) > HIGHEST_C
            or (small and (charge_named or lithium_polymer))
            or (mixed and lithium_polymer)  # "5C/50C" may be charge and discharge
            or (unlike and len(item.rates) == 1)
        ):
            _ask(text, item, "charge_c" if small and not text.has("charge_c") else "label_c")
        elif len(item.rates) == 2 and c_free:
            _take(text, item, {"label_c": item.rates[0], "label_burst_c": item.rates[1]})
        elif len(item.rates) == 1:
            second = not c_free and not text.has("label_burst_c")
            if c_free or second:
                _take(text, item, _of_one(item, steady=c_free))
        elif not item.rates and item.amps is not None and not charge_named:
            if a_free:
                _take(text, item, {"continuous_a": item.amps})
            elif not text.has("burst_a"):
                _take(text, item, {"burst_a": item.amps})


def _take(text: Text, item: _Figure, values: Found) -> None:
    text.note(values, item.words)
    text.blank(item.start, item.end)


def _ask(text: Text, item: _Item, field: str) -> None:
    assert isinstance(item, _Figure)
    if field == "charge_c":
        text.asked[field] = (
            f"“{item.words}”: is it the charge rate? Read the label again; 1C is taken where none is said."
        )
    else:
        text.asked[field] = f"“{item.words}”: what is it, continuous, burst or for charging?"
    text.blank(item.start, item.end)
