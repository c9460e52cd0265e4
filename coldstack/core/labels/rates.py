"""Rates and currents of a label: which of them is continuous, which burst, which for charging.

Each word such as *charge* or *burst* may belong to the figure before it or to the one after it. All ways
to give words their figures are weighed; where two ways are equally good and say different things, nobody
chooses: it is asked.
"""

from __future__ import annotations

import itertools

from coldstack.core.labels.rate_items import (
    APART,
    BAR,
    HIGHEST_C,
    LOWEST_LIPO_C,
    POLYMERS,
    Figure,
    Item,
    Key,
    items_of,
    set_apart,
)
from coldstack.core.labels.text import Found, Text

HIGHEST_CHARGE_C = 10.0
"""A charge rate above this is never taken without being asked."""
MOST_BURST_SHARE = 3.2
"""A burst rate is hardly more than three times the continuous one: two rates further apart mean different
things."""
MOST_WORDS = 6
"""Words whose figures are sought; a label has three."""


def read_rates(text: Text) -> None:
    """Take every rate and current out of the label, each as what the words beside it say."""
    text.rest = APART.sub(set_apart, text.rest)
    items = items_of(text)
    ways = _ways(text, items)
    taken = max(ways, key=lambda w: w[0])[1]
    tied = _tied(ways, taken) | _beside_open_charge(items, taken)
    loose = [i for i, x in enumerate(items) if isinstance(x, Figure) and i not in taken and i not in tied]
    for i in sorted(tied):
        _ask(text, items[i], "charge_c" if tied[i] == "charge" else "label_c")
    for i, kind in taken.items():
        if i not in tied:
            _keep(text, items[i], kind)
    for k, side in _keys_with_figures(items, taken):
        key = items[k]
        if isinstance(key, Key) and k + side not in tied:
            text.blank(key.start, key.end)
    _keep_loose(
        text,
        [x for i in loose if isinstance(x := items[i], Figure)],
        charge_named=_charge_open(items, taken),
    )


# ---- what stands on the label, in order


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


def _beside_open_charge(items: list[Item], taken: dict[int, str]) -> dict[int, str]:
    """Figures next to a word of charging that was given none: nobody knows what they are."""
    if not _charge_open(items, taken):
        return {}
    keys = [i for i, x in enumerate(items) if isinstance(x, Key) and x.kind in ("charge", "unclear")]
    beside = {k + s for k in keys for s in (-1, 1) if isinstance(_at(items, k + s), Figure)}
    return {i: "charge" for i in beside if i not in taken}


def _keys_with_figures(items: list[Item], taken: dict[int, str]) -> list[tuple[int, int]]:
    """Words that have their figure, and on which side."""
    return [
        (k, side)
        for k, key in enumerate(items)
        if isinstance(key, Key)
        for side in (-1, 1)
        if taken.get(k + side) == key.kind
    ]


def _ways(text: Text, items: list[Item]) -> list[tuple[float, dict[int, str]]]:
    keys = [i for i, x in enumerate(items) if isinstance(x, Key)][:MOST_WORDS]
    sides = [[s for s in (-1, 1) if isinstance(_at(items, k + s), Figure)] for k in keys]
    ah = next((s.value for s in text.seen if s.name == "capacity_ah"), None)
    ways: list[tuple[float, dict[int, str]]] = []
    for chosen in itertools.product(*([*s, 0] for s in sides)):
        places = [k + s for k, s in zip(keys, chosen, strict=True) if s]
        if len(set(places)) < len(places):
            continue
        way = {
            k + s: key.kind
            for k, s in zip(keys, chosen, strict=True)
            if s and isinstance(key := items[k], Key)
        }
        colons = sum(
            s < 0 for k, s in zip(keys, chosen, strict=True) if isinstance(key := items[k], Key) and key.colon
        )
        one_side = 3 if len({s for s in chosen if s}) == 1 and len(places) > 1 else 0
        bare = sum(1 for i in places if isinstance(f := items[i], Figure) and not f.rates and f.amps is None)
        ways.append((10 * len(places) - 5 * bare - 25 * _wrong(items, way, ah) - 15 * colons + one_side, way))
    return ways or [(0.0, {})]


def _wrong(items: list[Item], way: dict[int, str], ah: float | str | None) -> int:
    """How many things no label would say: a charge rate above ten or above the discharge, a burst below
    it."""
    rate = {i: _rate(x, ah) for i, x in enumerate(items) if isinstance(x, Figure)}
    charge = [r for i, r in rate.items() if way.get(i) == "charge" and r]
    steady = [r for i, r in rate.items() if way.get(i) == "steady" and r]
    burst = [r for i, r in rate.items() if way.get(i) in ("burst", "most") and r]
    loose = [r for i, r in rate.items() if i not in way and r]
    wrong = sum(r > HIGHEST_CHARGE_C for r in charge)
    wrong += sum(c > s for c in charge for s in (*steady, *loose))
    wrong += sum(b < s for b in burst for s in (*steady, *(x for x in loose if x > HIGHEST_CHARGE_C)))
    return wrong


def _rate(figure: Figure, ah: float | str | None) -> float | None:
    if figure.rates:
        return figure.rates[0]
    return figure.amps / ah if figure.amps and isinstance(ah, float) and ah > 0 else None


def _at(items: list[Item], i: int) -> Item:
    return items[i] if 0 <= i < len(items) else BAR


def _charge_open(items: list[Item], taken: dict[int, str]) -> bool:
    """Whether a word of charging found no figure: then a loose small rate may be its."""
    named = any(isinstance(x, Key) and x.kind in ("charge", "unclear") for x in items)
    return named and "charge" not in taken.values()


# ---- into fields


def _keep(text: Text, item: Item, kind: str) -> None:
    assert isinstance(item, Figure)
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


def _of_one(item: Figure, *, steady: bool) -> Found:
    """One rate, one current or both, continuous or burst."""
    found: Found = {}
    if item.rates:
        found["label_c" if steady else "label_burst_c"] = item.rates[0]
    if item.amps is not None:
        found["continuous_a" if steady else "burst_a"] = item.amps
    return found


def _keep_loose(text: Text, loose: list[Figure], *, charge_named: bool) -> None:
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
        lithium_polymer = chemistry in POLYMERS
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


def _take(text: Text, item: Figure, values: Found) -> None:
    text.note(values, item.words)
    text.blank(item.start, item.end)


def _ask(text: Text, item: Item, field: str) -> None:
    assert isinstance(item, Figure)
    if field == "charge_c":
        text.asked[field] = (
            f"“{item.words}”: is it the charge rate? Read the label again; 1C is taken where none is said."
        )
    else:
        text.asked[field] = f"“{item.words}”: what is it, continuous, burst or for charging?"
    text.blank(item.start, item.end)
