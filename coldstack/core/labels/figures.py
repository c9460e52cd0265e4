"""The figures of a label but for its rates: energy, capacity, volts, cells, sizes, mass, price."""

from __future__ import annotations

import re

from coldstack.core.labels.text import NUMBER, TAKEN, Found, Text, number

MOST_AH, LEAST_AH = 100.0, 0.02
"""Packs of models: a capacity beyond these is a slip of its unit."""
BARE_MAH = (100, 30_000)
"""Bare whole numbers in this range are read as mAh where nothing else is, and that is said."""
LEAST_LISTED_MAH = 50.0
"""In a list's capacities a bare figure from this on is mAh: no pack of a model has as many Ah."""
_MAH = (
    r"m\.?\s?a+\.?\s*[·.*/-]?\s?h+(?:r|rs)?(?![a-z])|m\s?ha(?![a-z])|milli\s?amp(?:ere)?[\s-]*h(?:ou)?rs?\b"
)
_AH = r"a\s?[·.*-]?\s?h(?:r|rs)?(?![a-z])|amp(?:ere)?[\s-]*h(?:ou)?rs?\b"
_WH = r"w\s?[·.*-]?\s?h(?:r|rs|ours?)?(?![a-z])|watt[\s-]*hours?\b"
_CURRENCY = r"(?:€|\$|£|\b(?:eur(?:os?)?|usd|gbp|chf|sek|nok|dkk|pln)\b|\bkr\b\.?|zł)"
_NO_UNIT = r"(?!\s*(?:m?ah|mha|wh|v|c|s|p|a|g|kg|oz|mm|cells?|grams?|awg)(?![a-z]))"
_GROUPED = re.compile(rf"(?<!\w)(?<!\d[.,])(\d{{1,2}})[ ,.'](\d{{3}})(?=\s*(?:{_MAH}))", re.I)
_COUNTS = {
    "one": 1,
    "single": 1,
    "two": 2,
    "three": 3,
    "four": 4,
    "five": 5,
    "six": 6,
    "seven": 7,
    "eight": 8,
}


def read_price(text: Text) -> None:
    """An amount beside a currency: the currency itself is its owner's."""
    amount = (
        rf"(?<!\w)(?<!\d[.,])\d{{1,3}}(?:[.,']\d{{3}})+[.,]\d{{2}}(?!\d){_NO_UNIT}|"
        rf"(?<!\w)(?<!\d[.,])\d+(?:[.,]\d{{1,2}}|[.,]-)?(?!\d|[.,]\d){_NO_UNIT}"
    )
    for sign in re.finditer(_CURRENCY, text.rest, re.I):
        before = re.search(rf"({amount})\s*$", text.rest[: sign.start()])
        after = re.match(rf"\s*({amount})", text.rest[sign.end() :])
        found = _likelier(before, after)
        if found is None:
            if before and after:
                text.asked["price"] = f"Which is the price: {before[1]} or {after[1]}?"
            continue
        start = (0 if found is before else sign.end()) + found.start(1)
        text.note({"price": _amount(found[1])}, f"{sign.group()} {found[1]}")
        text.blank(min(start, sign.start()), max(start + len(found[1]), sign.end()))
        return
    text.take(rf"\bprice\s*[:=]?\s*({amount})", lambda m: {"price": _amount(m[1])})
    text.take(r"(?<!\d)(?<!\d[.,])(\d+)[.,]-(?!\d)", lambda m: {"price": number(m[1])})


def _likelier(before: re.Match[str] | None, after: re.Match[str] | None) -> re.Match[str] | None:
    """Which of two numbers beside a currency is its amount: the one with cents, else the one that touches
    it."""
    if not before or not after:
        return before or after
    for tells in (lambda m: re.search(r"[.,](?:\d{2}|-)$", m[1]), lambda m: " " not in m.group()):
        told = [m for m in (before, after) if tells(m)]
        if len(told) == 1:
            return told[0]
    return None


def read_energy_and_capacity(text: Text) -> None:
    """Wh, mAh, Ah; thousands grouped by a point, a comma, a blank."""
    grouped = _GROUPED.search(text.rest)
    if grouped:
        text.rest = _GROUPED.sub(r"\1\2", text.rest)
        if " " in grouped.group():
            text.note({"grouped_mah": float(grouped[1] + grouped[2])}, grouped.group())
    text.take(rf"{NUMBER}\s*(?:{_WH})", lambda m: {"energy_wh": number(m[1])})
    text.take(rf"{NUMBER}\s*(?:{_MAH})", lambda m: _capacity(text, number(m[1]) / 1000, m), every=True)
    text.take(rf"{NUMBER}\s*(?:{_AH})", lambda m: _capacity(text, number(m[1]), m), every=True)


def read_bare_capacity(text: Text) -> None:
    """One whole number without a unit, where no capacity is printed: mAh, and a question if there are two."""
    if text.has("capacity_ah") or "capacity_ah" in text.asked:
        return
    bare = [
        m
        for m in re.finditer(
            r"(?<![\w.,/+°#-])(?<!\b\d )(?<!\b\d\d )(\d{1,2}[.,]\d{3}|\d{3,5})(?![\w/+%°]|[.,-]\d|"
            r"\s*(?:[a-z]|m\.?\s?a|\w{0,2}ah?)\b)",
            text.rest,
            re.I,
        )
        if BARE_MAH[0] <= _mah(m[1]) <= BARE_MAH[1]
    ]
    if len(bare) > 1:
        told = " or ".join(m[1] for m in bare)
        text.asked["capacity_ah"] = f"Which is the capacity in mAh: {told}?"
    elif bare:
        match = bare[0]
        text.note({"capacity_ah": _mah(match[1]) / 1000, "bare_mah": _mah(match[1])}, match[1])
        text.blank(*match.span())


def read_volts(text: Text) -> None:
    """Nominal volts; volts beside full, max or charge are not nominal, volts beside cut-off are nobody's."""
    unit = r"\s*(?:v(?:olts?)?(?:dc)?)(?![a-z])"
    text.take(r"(?<!\w)(?<!\d[.,])(\d{1,2})v(\d{1,2})\b", lambda m: {"nominal_v": float(f"{m[1]}.{m[2]}")})
    cell = r"\s*(?:/|per|a|each)\s*cell\b"
    text.take(rf"{NUMBER}{unit}{cell}", lambda m: {"cell_v": number(m[1])})
    low = r"(?:cut[\s-]*off|min(?:imum)?|lvc|alarm|storage)\.?"
    text.take(rf"\b{low}\s*[:=]?\s*{NUMBER}{unit}|{NUMBER}{unit}\s*{low}(?![a-z])", lambda m: {})
    full = (
        r"(?:max(?:imum)?\.?|full(?:y)?(?:\s*charged?)?|charged(?:\s*to)?|charge\s*to"
        r"|charg(?:e|ing)\s*volt(?:age)?)"
    )
    text.take(
        rf"\b{full}\s*[:=]?\s*{NUMBER}{unit}|{NUMBER}{unit}\s*{full}(?![a-z])",
        lambda m: {"full_v": number(m[1] or m[2])},
    )
    text.take(rf"{NUMBER}{unit}(?:\s*(?:nominal|nom\b\.?))?", lambda m: {"nominal_v": number(m[1])})
    text.take(rf"{NUMBER}{unit}", lambda m: {"second_v": number(m[1])})


def read_cells(text: Text) -> None:
    """Cells in series and strings in parallel, and balance wires where they are counted on the label."""
    text.take(
        r"\b(\d{1,2})[\s-]*(?:balanc(?:e|ing)\s*)(?:wires?|pins?)\b"
        r"|\b(\d{1,2})[\s-]*(?:pins?|wires?)\s*(?:balanc(?:e|ing|er)|xh|jst)\b"
        r"|\bbalanc(?:e|ing|er)\s*[:]?\s*(\d{1,2})[\s-]*(?:pins?|wires?)\b",
        lambda m: {"wires_series": int(m[1] or m[2] or m[3]) - 1},
    )
    joined = (
        r"(?<!\w)(?<!\d[.,])(?:(\d)\s*[x×*]\s*(\d{1,2})\s*s(?:\d{1,2}p)?|"
        r"(\d{1,2})\s*s(?:\d{1,2}p)?\s*[x×*]\s*(\d))\b(?!\s*p)"
    )
    text.take(joined, lambda m: _several(text, m))
    text.take(
        r"(?<!\d)(?<!\d[.,])(\d{1,2})\s*s\s*[x×*/-]?\s*(\d{1,2})\s*p(?![a-z])",
        lambda m: {"series": int(m[1]), "parallel": int(m[2])},
    )
    text.take(
        r"\b(\d{1,2})\s*p\s*[x×*/-]?\s*(\d{1,2})\s*s\b",
        lambda m: {"series": int(m[2]), "parallel": int(m[1])},
    )
    _seconds(text)
    text.take(
        r"(?<!\d)(?<!\d[.,])(?<!\b[a-z])(\d{1,2})[\s-]*s(?:eries)?(?![a-z])",
        lambda m: {"series": int(m[1])},
        every=True,
    )
    words = "|".join(_COUNTS)
    text.take(
        rf"(?<!\w)(?<!\d[.,])(\d{{1,2}}|{words})[\s-]*cells?\b(?:[\s-]*in[\s-]*series)?",
        lambda m: {"series": _COUNTS.get(m[1].lower()) or int(m[1])},
    )
    if text.has("series"):  # strings alone may be cells with a slip
        text.take(r"(?<!\w)(?<!\d[.,])(\d)[\s-]*(?:p\b|parallel\b)", lambda m: {"parallel": int(m[1])})
    _ask_for_seconds(text)


def _ask_for_seconds(text: Text) -> None:
    """A lone count of cells beside words of bursts may be the seconds of the burst."""
    if text.has("nominal_v") or text.has("energy_wh"):
        return
    lone = [s for s in text.seen if s.name == "series" and re.search(r"(?i)burst|peak|pulse", text.rest)]
    if len(lone) == 1 and lone[0].value in _BURST_SECONDS and not text.has("parallel"):
        text.seen.remove(lone[0])
        text.asked["series"] = (
            f"Is “{lone[0].words}” cells in series, or seconds of the burst? Count the balance wires."
        )


_BURST_SECONDS = (5, 10, 15, 20, 30)


def _seconds(text: Text) -> None:
    """Seconds of a burst, which look like cells in series: only where the cells stand elsewhere too."""
    # blanks, so that a word behind them still meets its figure: "30C 10 sec burst"
    text.rest = re.sub(
        r"(?<!\w)(?<!\d[.,])\d{1,3}\s*sec(?:onds?)?\b\.?",
        lambda m: " " * len(m.group()),
        text.rest,
        flags=re.I,
    )
    for match in re.finditer(r"(?<!\w)(?<!\d[.,])(\d{1,2})\s*s\b", text.rest, re.I):
        others = re.findall(r"(?<!\w)(?<!\d[.,])\d{1,2}\s*s\b", text.rest, re.I)
        near = re.search(
            rf"(?i)(?:(?:burst|peak|pulse|for)[^\w{TAKEN}]*(?:\d+\s*c)?[^\w{TAKEN}]*|\d\s*c\s*\(\s*)$",
            text.rest[: match.start()],
        )
        if int(match[1]) in _BURST_SECONDS and near and (text.has("series") or len(others) > 1):
            text.blank(*match.span())


def read_sizes(text: Text) -> None:
    """Length, width and height in mm (the longest first), mass in g, leads in mm."""
    times = r"\s*(?:mm|cm)?\s*[x×*]\s*"
    text.take(NUMBER + times + NUMBER + times + NUMBER + r"\s*(mm|cm)?(?![\w])", lambda m: _box(m))
    text.take(
        r"\bleads?\s*(?:length)?\s*[:=]?\s*(\d{2,4})\s*mm\b"
        r"|(?<!\d)(?<!\d[.,])(\d{2,4})\s*mm\s*(?:leads?|wires?)\b",
        lambda m: {"lead_length_mm": number(m[1] or m[2])},
    )
    text.take(rf"{NUMBER}\s*kg\b", lambda m: {"mass_g": round(1000 * number(m[1]), 1)})
    text.take(rf"{NUMBER}\s*(?:g|grams?|gr|gms?)\b\.?(?!\s*hz)", lambda m: {"mass_g": number(m[1])})
    text.take(rf"{NUMBER}\s*(?:oz|ounces?)\b", lambda m: {"mass_g": round(number(m[1]) * 28.3495, 1)})


def _capacity(text: Text, ah: float, match: re.Match[str]) -> Found:
    if LEAST_AH <= ah <= MOST_AH:
        return {"capacity_ah": ah}
    text.asked["capacity_ah"] = f"“{match.group().strip()}” cannot be a pack’s capacity: is its unit right?"
    return {}


def _several(text: Text, match: re.Match[str]) -> Found:
    text.asked["series"] = (
        f"“{match.group().strip()}” can be one pack or several: count the balance wires, one more than cells."
    )
    return {}


def _box(match: re.Match[str]) -> Found:
    scale = 10.0 if match[4] and match[4].lower() == "cm" else 1.0
    sides = sorted((round(number(g) * scale, 1) for g in match.groups()[:3]), reverse=True)
    return dict(zip(("length_mm", "width_mm", "height_mm"), sides, strict=True))


def _mah(text: str) -> float:
    return float(text.replace(".", "").replace(",", ""))


def _amount(text: str) -> float:
    whole, _, cents = re.sub(r"[ ']|[.,]-$", "", text).replace(",", ".").rpartition(".")
    if whole and len(cents) <= 2:
        return float(whole.replace(".", "") + "." + cents)
    return float((whole + cents).replace(".", ""))
