"""What a pack's label says: one line, typed or pasted, read into fields; contradictions are reported, never chosen between silently."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass, field

from coldstack.core.chain.balance import series_of_wires
from coldstack.core.packs.label_checks import contradictions, fill_from_volts
from coldstack.core.packs.label_reading import LabelReading, Seen

LONGEST_LABEL = 400
"""Characters of a label that are read; more is no label."""

TAKEN = "¦"
"""Stands where something was read: no white space, so that what stood apart is not joined."""
NUMBER = r"(\d+(?:[.,]\d+)?)"
_DASHES = re.compile(r"[‐‑‒–—−]")
_THOUSANDS = re.compile(r"(?<![\d.,])(\d{1,3})[ ,.'\u2009\u202f](\d{3})(?=\s*m\s*A)", re.I)


@dataclass(slots=True)
class _Text:
    """The label while it is read: what a pattern has taken is blanked out, so that nothing is read twice."""

    rest: str
    seen: list[Seen] = field(default_factory=list)

    def take(
        self, pattern: str, use: Callable[[re.Match[str]], dict[str, float | str]], *, every: bool = False
    ) -> bool:
        """Read the first match (or every one), and blank it out; whether there was any."""
        found = False
        for match in list(re.finditer(pattern, self.rest, re.I)):
            found = True
            self.seen += [
                Seen(name, value, match.group().strip(" ,;:/")) for name, value in use(match).items()
            ]
            start, end = match.span()
            self.rest = self.rest[:start] + TAKEN * (end - start) + self.rest[end:]
            if not every:
                break
        return found


def read_label(
    line: str, *, balance_wires: int | None = None, measured_v: float | None = None
) -> LabelReading:
    """A label line as fields, with what contradicts what and what is missing.

    Parameters
    ----------
    line : str
        As printed, in any order and spelling: "5S1P 18.5V 3900mAh 72.2Wh 40C/80C charge 3C".
    balance_wires : int, optional
        Wires counted in the balance plug: one more than cells in series. Fills a label that gives no cell count.
    measured_v : float, optional
        Volts read with a meter; a pack at rest lies between empty and full. Fills in where one cell count alone is possible.

    Never fails on any text: what cannot be read is named in ``unread``.

    Raises
    ------
    DomainError
        Only for a count of fewer than two balance wires.
    """
    text = _Text(_THOUSANDS.sub(r"\1\2", _DASHES.sub("-", line[:LONGEST_LABEL])))
    _chemistry(text)
    _energy_and_capacity(text)
    _volts(text)
    _cells(text)
    _charge_rate(text)
    _rates(text)
    _currents(text)
    _rest(text)
    reading = LabelReading.of(text.seen)
    if balance_wires is not None:
        reading.add("wires_series", series_of_wires(balance_wires), f"{balance_wires} balance wires")
    fill_from_volts(reading, measured_v)
    reading.contradictions += contradictions(reading)
    reading.missing += [words for name, words in _WANTED if name not in reading.values]
    reading.unread = " ".join(
        w for w in re.findall(r"[^\s,;:/|()¦]+", text.rest) if len(w) > 1 or w.isdigit()
    )
    return reading


_WANTED = (
    ("series", "cells in series: count the balance wires, one more than cells"),
    ("capacity_ah", "capacity in mAh"),
    ("label_c", "a C rating: it is taken as typical for the chemistry"),
    ("mass_g", "mass: put it on a scale"),
)
_CHEMISTRY_WORDS = (
    (r"\bsemi[\s-]*solid(?:[\s-]*state)?\b|\bsolid[\s-]*state\b", "semisolid"),
    (r"\bli(?:thium)?[\s-]*(?:ion[\s-]*)?fe(?:po4?)?\b|\blfp\b|\blife\s*po4\b|\blithium\s*iron(?:\s*phosphate)?\b", "lifepo4"),
    (r"\bni[\s-]*mh\b|\bnickel[\s-]*metal[\s-]*hydride\b", "nimh"),
    (r"\bli[\s-]*hv\b|\b(?:li(?:thium)?[\s-]*po(?:ly(?:mer)?)?[\s-]*)?hv\b|\bhigh[\s-]*volt(?:age)?(?:\s*li[\s-]*po)?\b|\bhv[\s-]*li[\s-]*po\b", "lihv"),
    (r"\bli(?:thium)?[\s-]*po(?:ly(?:mer)?)?\b|\blipoly\b|\blithium[\s-]*ion[\s-]*polymer\b|\blithium\s*polymer\b", "lipo"),
    (r"\bli(?:thium)?[\s-]*ion\b", "liion"),
)  # fmt: skip


def _chemistry(text: _Text) -> None:
    for pattern, name in _CHEMISTRY_WORDS:
        if text.take(pattern, lambda m, name=name: {"chemistry": name}):  # type: ignore[misc]
            # "LiPo HV" and "Li-ion polymer" say it twice; the first, more special word stands
            for other, _ in _CHEMISTRY_WORDS:
                text.take(other, lambda m: {}, every=True)
            return


def _energy_and_capacity(text: _Text) -> None:
    text.take(NUMBER + r"\s*w\s*[·.*]?\s*h(?:r|rs|ours?)?\b", lambda m: {"energy_wh": _float(m[1])})
    text.take(r"(\d+(?:[.,]\d+)?)\s*m\s*a\s*[·.*-]?\s*h(?:r|rs)?\b", lambda m: {"capacity_ah": _float(m[1]) / 1000}, every=True)  # fmt: skip
    text.take(NUMBER + r"\s*(?:a\s*[·.*-]?\s*h(?:r|rs)?|amp[\s-]*hours?)\b", lambda m: {"capacity_ah": _float(m[1])}, every=True)  # fmt: skip


def _volts(text: _Text) -> None:
    text.take(
        NUMBER + r"\s*(?:v|volts?)(?:dc)?(?:\s*(?:nominal|nom\.?))?\b", lambda m: {"nominal_v": _float(m[1])}
    )
    text.take(NUMBER + r"\s*(?:v|volts?)(?:dc)?(?:\s*(?:max\.?|full|charged))?\b", lambda m: {"second_v": _float(m[1])})  # fmt: skip


def _cells(text: _Text) -> None:
    text.take(
        r"\b(\d{1,2})\s*s\s*[x×*/-]?\s*(\d{1,2})\s*p\b",
        lambda m: {"series": int(m[1]), "parallel": int(m[2])},
    )
    text.take(r"\b(\d{1,2})\s*s(?:eries)?\b", lambda m: {"series": int(m[1])})
    text.take(r"\b(\d{1,2})\s*p\b", lambda m: {"parallel": int(m[1])})
    text.take(r"\b(\d{1,2}|one|two|three|four|five|six|seven|eight)[\s-]*cells?\b", lambda m: {"series": _word_number(m[1])})  # fmt: skip


_CHARGE = r"(?<![a-z])(?<!dis[\s-])(?:max\.?\s*|maximum\s*|fast\s*|quick\s*)?(?:re)?charg(?:e|ing)(?:\s*(?:rate|current|speed))?"


def _charge_rate(text: _Text) -> None:
    rate = NUMBER + r"\s*c\b"
    amps = NUMBER + r"\s*a(?:mps?)?\b"
    upto = r"\s*[:=]?\s*(?:max\.?|up\s*to|at|with)?\s*[:=]?\s*"
    both = r"(?:\s*[(/=]?\s*" + amps + r"\s*\)?)?"

    def rate_and_amps(m: re.Match[str]) -> dict[str, float | str]:
        return {"charge_c": _float(m[1]), **({"charge_a": _float(m[2])} if m[2] else {})}

    text.take(_CHARGE + upto + rate + both, rate_and_amps)
    text.take(rate + both + r"\s*(?:max\.?\s*)?" + _CHARGE, rate_and_amps)
    text.take(_CHARGE + upto + amps, lambda m: {"charge_a": _float(m[1])})
    text.take(amps + r"\s*(?:max\.?\s*)?" + _CHARGE, lambda m: {"charge_a": _float(m[1])})


_BURST = r"(?:burst|peak|pulse|max(?:imum)?\.?)"
_STEADY = r"(?:cont(?:inuous)?\.?|constant|sustained|discharge|disch\.?)"


def _rates(text: _Text) -> None:
    two = NUMBER + r"\s*c?\s*(?:/|-|~|to|\+|\()\s*" + NUMBER + r"\s*c\b\)?"
    if text.take(r"\b" + two, lambda m: {"label_c": _float(m[1]), "label_burst_c": _float(m[2])}):
        return
    text.take(_BURST + r"\s*[:=]?\s*" + NUMBER + r"\s*c\b", lambda m: {"label_burst_c": _float(m[1])})
    text.take(NUMBER + r"\s*c\s*" + _BURST + r"(?![a-z])", lambda m: {"label_burst_c": _float(m[1])})
    text.take(r"(?:" + _STEADY + r"\s*(?:rate)?\s*[:=]?\s*)?\b" + NUMBER + r"\s*c(?:\s*" + _STEADY + r")?(?![a-z])", lambda m: {"label_c": _float(m[1])})  # fmt: skip
    text.take(r"\b" + NUMBER + r"\s*c(?![a-z])", lambda m: {"label_burst_c": _float(m[1])})


def _currents(text: _Text) -> None:
    amps = NUMBER + r"\s*a(?:mps?)?(?![a-z·.]*h)"
    text.take(_BURST + r"\s*[:=]?\s*" + amps + r"\b", lambda m: {"burst_a": _float(m[1])})
    text.take(r"\b" + amps + r"\s*" + _BURST, lambda m: {"burst_a": _float(m[1])})
    text.take(r"\b" + amps + r"(?:\s*" + _STEADY + r")?(?![a-z])", lambda m: {"continuous_a": _float(m[1])})


def _rest(text: _Text) -> None:
    cross = r"\s*(?:mm)?\s*[x×*]\s*"
    text.take(NUMBER + cross + NUMBER + cross + NUMBER + r"\s*mm\b", lambda m: dict(zip(("length_mm", "width_mm", "height_mm"), sorted((_float(g) for g in m.groups()), reverse=True), strict=True)))  # fmt: skip
    text.take(NUMBER + r"\s*(?:g|grams?|gr)\b", lambda m: {"mass_g": _float(m[1])})
    text.take(NUMBER + r"\s*oz\b", lambda m: {"mass_g": round(_float(m[1]) * 28.3495, 1)})
    text.take(r"\b(\d{1,2})\s*awg\b|\bawg\s*(\d{1,2})\b", lambda m: {"lead_awg": float(m[1] or m[2])})
    for pattern, plug in _PLUG_WORDS:
        if text.take(pattern, lambda m, plug=plug: {"plug": plug}):  # type: ignore[misc]
            break
    for pattern, family in ((r"\bxh\b", "xh"), (r"\beh\b", "eh"), (r"\b(?:tp|pq)\b", "tp")):
        if text.take(pattern, lambda m, family=family: {"balance_plug": family}):  # type: ignore[misc]
            break
    text.take(r"\b(?:rechargeable|battery|pack|batteries|plug|connector|lead|wires?|balance|cells?|rc|the|with|and|for)\b", lambda m: {}, every=True)  # fmt: skip


_PLUG_WORDS: tuple[tuple[str, str], ...] = (
    (r"\bt[\s-]*plug\b", "t_plug"),
    *((rf"\bxt[\s-]*{size}\b", f"xt{size}") for size in (30, 60, 90)),
    *((rf"\bec[\s-]*{size}\b", f"ec{size}") for size in (2, 3, 5)),
    (r"\brcy\b", "rcy"),
    (r"\bph\s*2(?:[.,]0)?(?:\s*mm)?\b", "ph_2"),
    (r"\b3[.,]5\s*mm\s*bullets?\b", "bullet_3_5"),
    (r"\b5[.,]5\s*mm\s*bullets?\b", "bullet_5_5"),
    *((rf"\b{size}(?:[.,]0)?\s*mm\s*bullets?\b", f"bullet_{size}") for size in (2, 4, 8)),
    (r"\bwhite\s*(?:two[\s-]*pin\s*)?block\b", "block_large"),
)
_WORDS = {"one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8}


def _word_number(word: str) -> int:
    return _WORDS.get(word.lower()) or int(word)


def _float(text: str) -> float:
    return float(text.replace(",", "."))
