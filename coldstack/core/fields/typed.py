"""Figures as people type them, read in one way everywhere: in forms, in files, over the API.

A number with a decimal comma or point, grouped or not, with or without a unit, in any unit of its quantity;
a fraction; minutes as on a watch. What could be meant in two ways is asked, and what is not understood is
told: nothing is ever read in part. `docs/formats.md` has the same in words, ``tests/data/typed.json`` cases
that screens and core must read alike.
"""

from __future__ import annotations

import re
import unicodedata
from dataclasses import dataclass
from typing import Literal, NamedTuple

from coldstack.core.fields.quantity import Unit


class Scale(NamedTuple):
    """What one of a unit is in the unit that is kept: ``factor`` × the figure + ``offset``."""

    factor: float
    offset: float = 0.0


Grouping = Literal["fine", "coarse", "asked"]
_TIMES = {
    **dict.fromkeys(("s", "sec", "secs", "second", "seconds", "sek"), 1.0),
    **dict.fromkeys(("m", "min", "mins", "minute", "minutes", "minuten"), 60.0),
    **dict.fromkeys(("h", "hr", "hrs", "hour", "hours", "std"), 3600.0),
    **dict.fromkeys(("d", "day", "days"), 86_400.0),
    "ms": 1e-3,
}
_CELSIUS = dict.fromkeys(("°c", "c", "degc", "celsius", "°", "deg", "degrees"), Scale(1.0))
_FAHRENHEIT = dict.fromkeys(("°f", "f", "degf", "fahrenheit"), Scale(1 / 1.8, -32 / 1.8))


def _of(**groups: float) -> dict[str, Scale]:
    """Units by their spellings, joined by underscores in the name of the group."""
    return {word: Scale(factor) for words, factor in groups.items() for word in words.split("_")}


def _times(second: float) -> dict[str, Scale]:
    return {word: Scale(factor * second) for word, factor in _TIMES.items()}


UNITS: dict[Unit, dict[str, Scale]] = {
    "": {**_of(s_cells_cell=1.0), "%": Scale(0.01)},
    "cells": _of(s_cells_cell_zellen=1.0),
    "Ah": _of(ah=1.0, mah=1e-3),
    "mAh": _of(mah=1.0, ah=1e3),
    "g": _of(
        g_gr_gm_gram_grams_gramm=1.0,
        kg_kilo_kilos=1000.0,
        oz_ounce_ounces=28.349523,
        lb_lbs_pound_pounds=453.59237,
    ),
    "mm": {**_of(mm=1.0, cm=10.0, m=1000.0, in_inch_inches=25.4), '"': Scale(25.4)},
    "C": _of(c=1.0),
    "mΩ": {**_of(mohm_mohms_milliohm_milliohms=1.0, ohm_ohms=1e3), "mω": Scale(1.0), "ω": Scale(1e3)},
    "AWG": _of(awg_ga_gauge=1.0),
    "A": _of(a_amp_amps_ampere_amperes=1.0, ma=1e-3),
    "mA": _of(ma=1.0, a_amp_amps=1e3),
    "V": _of(v_volt_volts=1.0, mv=1e-3),
    "W": _of(w_watt_watts=1.0, kw=1e3),
    "Wh": _of(wh=1.0, kwh=1e3),
    "min": _times(1 / 60),
    "s": _times(1.0),
    "h": _times(1 / 3600),
    "°C": {**_CELSIUS, **_FAHRENHEIT},
    "rpm": {**_of(rpm=1.0, krpm=1e3), "1/min": Scale(1.0), "/min": Scale(1.0), "u/min": Scale(1.0)},
    "rpm/V": {**_of(kv=1.0), "rpm/v": Scale(1.0), "rpm/volt": Scale(1.0)},
    "dm²": {"sqdm": Scale(1.0), "sqcm": Scale(0.01), "sqin": Scale(0.064516), "sq in": Scale(0.064516)},
    "km/h": {
        **dict.fromkeys(("km/h", "kmh", "kph"), Scale(1.0)),
        **dict.fromkeys(("m/s", "ms"), Scale(3.6)),
        **dict.fromkeys(("mph", "mi/h"), Scale(1.609344)),
        **dict.fromkeys(("kn", "knots", "kt"), Scale(1.852)),
    },
    "money": {
        **_of(eur_euro_usd_gbp_chf_sek_nok_dkk_pln_kr_fr=1.0),
        **dict.fromkeys(("€", "$", "£", "zł"), Scale(1.0)),
    },
}
"""How each unit may be written, in lower case, and what one of it is."""
SAID: dict[Unit, str] = {
    "Ah": "mAh or Ah",
    "mAh": "mAh or Ah",
    "g": "g, kg, oz or lb",
    "mm": "mm, cm, m or in",
    "mΩ": "mΩ or Ω",
    "A": "A or mA",
    "mA": "mA or A",
    "V": "V or mV",
    "W": "W or kW",
    "Wh": "Wh or kWh",
    "min": "min, s, h or 4:30",
    "s": "s, min or 4:30",
    "h": "h, min or 1:30",
    "°C": "°C or °F",
    "dm²": "dm², cm² or in²",
    "km/h": "km/h, m/s or mph",
    "cells": "cells",
    "money": "an amount",
}
"""What is said of a unit that is none of its quantity."""
COARSE = frozenset(
    {"mah", "ma", "mv", "g", "gr", "gram", "grams", "rpm", "kv", "rpm/v", "s", "cells", "cell"}
)
"""Nobody gives a thousandth of these: a sign before three digits groups thousands. Seconds stand here as the
``S`` of a count; of time they are asked."""
ASKED: frozenset[Unit] = frozenset({"min", "s", "h", "mm", "W", "money"})
"""Of these "1,250" may be either."""
COARSE_BARE: frozenset[Unit] = frozenset({"", "cells", "mAh", "mA", "g", "rpm", "rpm/V", "AWG"})
"""The same, of a figure without a unit."""

TIMES: dict[Unit, float] = {"min": 1 / 60, "s": 1.0, "h": 1 / 3600}
"""What a second is of each unit of time."""
PARTS = frozenset({2, 3, 4, 5, 8, 10, 16, 32, 64})
"""Parts of one that people measure in."""
MOST_LETTERS = 40
LEAST_MAH = 20.0
"""Fewer, without a unit in a field of mAh, are Ah: the smallest pack that flies has 20."""
_VULGAR = re.compile(r"(?<=\d)(?=[½⅓⅔¼¾⅛⅜⅝⅞])")
_HALF_LETTERS = re.compile("[\ud800-\udfff]")
_SQUARE = re.compile(r"(dm|cm|in)2\b", re.I)
_ABOUT = re.compile(r"^(?:~|≈|ca\.?|circa|about|approx\.?|around|etwa)\s*", re.I)
_FIGURE = r"\d[\d.,'’ ]*\d|\d|[.,]\d+"
_WHOLE = re.compile(rf"^([+-]?)({_FIGURE})\s*([^\d\s.,+-][^\d]*?|)\.?$", re.A)
_FRACTION = re.compile(r"^(?:(\d+) )?(\d+) ?/ ?(\d+)\s*([^\d\s/].*|)$", re.A)
_RANGE = re.compile(
    rf"^({_FIGURE})\s*\S{{0,4}}?\s*(?:-|to|bis|\.\.+|…|or|/)\s*({_FIGURE})\s*\S{{0,8}}$", re.A
)
_CLOCK = re.compile(r"^(\d+):(\d{2})(?::(\d{2}))?\s*(?:min|minutes|h|hours)?$", re.A)
_HOURS, _MINUTES = r"(\d+) ?h(?:ours?|rs?)? ?", r"(\d+) ?(?:m(?:in(?:s|utes?)?)?|') ?"
_SECONDS = r"(\d{1,2}) ?(?:s(?:ec(?:s|onds?)?)?|\"|'')?"
_WATCH = re.compile(f"^(?:{_HOURS})?(?:{_MINUTES})?(?:{_SECONDS})?$", re.A)
_GROUPED = re.compile(r"^\d{1,3}(?:[ '’]\d{3})+(?=$|[.,])", re.A)


@dataclass(frozen=True, slots=True)
class Typed:
    """What was understood of a figure: its ``value`` in the unit that is kept, or what is wrong with it;
    ``could_be`` where one of several has to be said."""

    value: float | None = None
    problem: str = ""
    could_be: tuple[float, ...] = ()


class Unread(str):
    """A figure that was not understood, as it was typed, with the ``problem`` to tell at its field."""

    __slots__ = ("problem",)
    problem: str

    @classmethod
    def of(cls, text: str, problem: str) -> Unread:
        """The text with its problem."""
        unread = cls(text)
        unread.problem = problem
        return unread


def read_typed(text: str, unit: Unit, bare: str = "") -> Typed:
    """A figure as it was typed, for a quantity that is kept in ``unit``.

    ``bare`` is the unit of a figure without one, as its field shows it ("mah" where Ah are kept, "oz"); else
    it is the one that is kept. Never raises: what cannot be read says why.
    """
    text = _HALF_LETTERS.sub("\ufffd", text)  # what no file and no reply can hold
    plain = _plain(text)
    if plain == "":
        return Typed(problem="Enter a number.")
    if len(plain) <= MOST_LETTERS:
        given = _Given(text, plain, unit, bare)
        for read in (_as_time, _as_number, _as_fraction, _as_several):
            if (found := read(given)) is not None:
                return found
    return _no_number(text)


class _Given(NamedTuple):
    """A figure as typed and in plain letters, what it is for, and the unit of a bare one."""

    text: str
    plain: str
    unit: Unit
    bare: str

    def scale(self, typed: str) -> Scale | None:
        """What one is of the unit that was typed, or of the bare one; None for one of another quantity."""
        if typed:
            return UNITS[self.unit].get(typed)
        return UNITS[self.unit][self.bare] if self.bare else Scale(1.0)


def _as_time(given: _Given) -> Typed | None:
    if given.unit not in TIMES or (seconds := _watch_s(given.plain, given.unit)) is None:
        return None
    return _kept(seconds, Scale(TIMES[given.unit]))


def _as_number(given: _Given) -> Typed | None:
    plain = given.plain
    if given.unit == "money":
        plain = re.sub(r"^([€$£]|eur|usd|chf)\s*(.*)$", r"\2 \1", plain)
    found = _WHOLE.match(plain)
    if not found:
        return None
    figure, typed = found[2], found[3].strip()
    scale = given.scale(typed)
    if scale is None:
        return _no_unit(given.text, typed, given.unit)
    sign = -1.0 if found[1] == "-" else 1.0
    values = tuple(sign * v for v in _figures(figure, _grouping(typed or given.bare, given.unit)))
    if len(values) > 1:
        return _which(given.text, values, scale)
    if not values:
        return None
    if given.unit == "Ah" and given.bare == "mah" and not typed and values[0] < LEAST_MAH:
        return _in_ah(given.text, values[0])
    return _kept(values[0], scale)


def _as_fraction(given: _Given) -> Typed | None:
    found = _FRACTION.match(given.plain)
    # of C two figures are continuous and burst; others that are no part of one are two as well
    if not found or given.unit == "C" or int(found[3]) not in PARTS or int(found[2]) >= int(found[3]):
        return None
    scale = given.scale(found[4].strip())
    return scale and _kept(int(found[1] or 0) + int(found[2]) / int(found[3]), scale)


def _as_several(given: _Given) -> Typed | None:
    found = _RANGE.match(given.plain)
    scale = given.scale(_tail(given.plain)) if found else None
    if not found or scale is None:
        return None
    ends = [value for end in found.groups() for value in _figures(end, "fine")]
    return _which(given.text, (ends[0], ends[1]), scale) if len(ends) == 2 else None


def _plain(text: str) -> str:
    """In plain digits and signs, narrow and wide blanks as one, without *about*."""
    folded = unicodedata.normalize("NFKC", _VULGAR.sub(" ", text)).replace("\u2044", "/")
    folded = folded.replace("\u2032\u2032", '"').replace("\u2032", "'")
    folded = re.sub(r"[\s\u2009\u202f\u00a0]+", " ", folded).strip().replace("−", "-").replace("–", "-")
    folded = _SQUARE.sub(r"sq\1", folded)
    return _ABOUT.sub("", folded).lower()


def _figures(text: str, grouping: Grouping) -> tuple[float, ...]:
    """The numbers that a figure may be: two where its only sign may group or part, none if it is none."""
    grouped = _GROUPED.match(text)
    if grouped:
        text = re.sub(r"[ '’]", "", grouped[0]) + text[grouped.end() :]
    if re.search(r"[ '’]", text):
        return ()
    points, commas = text.count("."), text.count(",")
    if points and commas:
        parts = "." if text.rindex(".") > text.rindex(",") else ","
        whole, _, rest = text.rpartition(parts)
        thousands = whole.split("," if parts == "." else ".")
        if parts in whole or grouped or not _in_threes(thousands):
            return ()
        return (float(f"{''.join(thousands)}.{rest}"),)
    sign = "." if points else ","
    pieces = text.split(sign)
    if len(pieces) == 1:
        return (float(text),)
    if len(pieces) > 2:
        return (float("".join(pieces)),) if _in_threes(pieces) and not grouped else ()
    before, after = pieces
    either = not grouped and len(after) == 3 and 1 <= len(before) <= 3 and before[0] != "0"
    part, together = float(f"{before or '0'}.{after or '0'}"), float(before + after) if either else 0.0
    if not either or grouping == "fine" or (grouping == "asked" and sign == "."):
        return (part,)
    return (together,) if grouping == "coarse" else (together, part)


def _in_threes(pieces: list[str]) -> bool:
    return 1 <= len(pieces[0]) <= 3 and all(len(piece) == 3 for piece in pieces[1:])


def _grouping(given: str, unit: Unit) -> Grouping:
    """What a sign before three digits does behind a figure in this unit."""
    if unit in ASKED:
        return "asked"
    if given:
        return "coarse" if given in COARSE else "fine"
    return "coarse" if unit in COARSE_BARE else "fine"


def _watch_s(plain: str, unit: Unit) -> float | None:
    """A time as on a watch, in seconds: 4:30, 4m30, 4'30, 1h20; None for what is written otherwise."""
    if found := _CLOCK.match(plain):
        first, second, third = (int(x or 0) for x in found.groups())
        if second > 59 or third > 59:
            return None
        if found[3] is not None or unit == "h":
            return 3600.0 * first + 60.0 * second + third
        return 60.0 * first + second
    found = _WATCH.match(plain)
    if not found or sum(x is not None for x in found.groups()) < 2:
        return None
    hours, minutes, seconds = found.groups()
    if minutes is None:  # "1h20" are minutes behind the hours
        hours, minutes, seconds = hours, seconds, None
    if (int(minutes or 0) > 59 and hours is not None) or int(seconds or 0) > 59:
        return None
    return 3600.0 * int(hours or 0) + 60.0 * int(minutes or 0) + int(seconds or 0)


def _tail(plain: str) -> str:
    """The unit at the end."""
    found = re.search(r"([^\d\s.,]+)\.?$", plain)
    return found[1] if found else ""


def _kept(figure: float, scale: Scale) -> Typed:
    return Typed(value=_rounded(figure * scale.factor + scale.offset))


def _rounded(value: float) -> float:
    """Without what a factor leaves behind the digits that anybody types."""
    return float(f"{value:.9g}")


def _which(text: str, values: tuple[float, ...], scale: Scale) -> Typed:
    kept = tuple(_rounded(v * scale.factor + scale.offset) for v in values)
    said = " or ".join(f"{v:g}" if v < 1e6 else f"{v:.0f}" for v in values)
    return Typed(problem=f"“{text.strip()[:24]}” may be {said}. Which?", could_be=kept)


def _no_number(text: str) -> Typed:
    return Typed(problem=f"“{text.strip()[:24]}” is not a number.")


def _in_ah(text: str, figure: float) -> Typed:
    """No pack has so few mAh: they are Ah, most likely."""
    return Typed(problem=f"“{text.strip()[:24]}” mAh is next to nothing. {figure:g} Ah?", could_be=(figure,))


def _no_unit(text: str, given: str, unit: Unit) -> Typed:
    """A unit of something else is told as that; what is no unit at all makes no number."""
    if not any(given in units for units in UNITS.values()):
        return _no_number(text)
    as_typed = unicodedata.normalize("NFKC", text).strip().rstrip(".")[-len(given) :]
    return Typed(problem=f"“{as_typed}” does not go here: say {SAID.get(unit, unit or 'a bare number')}.")
