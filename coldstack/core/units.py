"""Numbers as a person reads them: enough digits to act on, no more."""

from __future__ import annotations

import math

MARK = "\u2060"
"""Stands unseen behind the unit of a quantity in a sentence: a screen writes what is before it in the units
that its reader has chosen. Twice behind a difference of temperatures, which has no zero of its own."""
GRAMS, MM, DEG, WARMER = f" g{MARK}", f" mm{MARK}", f" °C{MARK}", f" °C{MARK}{MARK}"
"""Behind a figure in a sentence."""
_MARKED = {"g": GRAMS, "mm": MM, "°C": DEG, "K": WARMER}

IN_HOURS_FROM = 180.0
"""Minutes from which on people speak of hours. House figure."""
KELVIN_AT_0_C = 273.15
SECONDS_PER_HOUR = 3600.0


def plain_number(value: float, digits: int = 3) -> str:
    """The value with about ``digits`` significant digits, without an exponent: 46, 14.2, 3.40 → "3.4"."""
    if not math.isfinite(value):
        return "unknown"
    if value == 0:
        return "0"
    decimals = max(0, digits - 1 - math.floor(math.log10(abs(value))))
    text = f"{value:.{decimals}f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


def with_unit(figure: str, unit: str) -> str:
    """A figure with its unit as a sentence has them: "14.6 mm", "46 A", "3"."""
    return f"{figure}{_MARKED.get(unit, f' {unit}')}".strip()


def about_number(value: float, digits: int = 2) -> str:
    """The value rounded to so many significant digits, zeros kept: 2652 → "2700"."""
    if value == 0 or not math.isfinite(value):
        return plain_number(value)
    return plain_number(round(value, digits - 1 - math.floor(math.log10(abs(value)))), digits)


def written(value: float) -> str:
    """A figure as people write one that is not exact: 0.84, 3.5, 12, 130, 1300 (two digits, from a hundred
    on rounded to tens)."""
    if value == 0 or not math.isfinite(value):
        return plain_number(value)
    return about_number(value, 2 if abs(value) < 1000 else 3)


def clock(duration_s: float) -> str:
    """Minutes and seconds, rounded down to the second: 1054.9 s → "17:34"; from three hours on "6 h 02"."""
    whole = int(duration_s)
    if whole >= IN_HOURS_FROM * 60:
        return f"{whole // 3600} h {whole % 3600 // 60:02d}"
    return f"{whole // 60}:{whole % 60:02d}"


def minutes_words(minutes: float) -> str:
    """Minutes as people say them, one at least: "25 min", "9 h 10 min"."""
    whole = max(1, round(minutes))
    return f"{whole} min" if whole < 60 else f"{whole // 60} h {whole % 60:02d} min"


def percent(share: float) -> str:
    """A share as per cent, with digits enough that it never rounds across 100 %: 1.004 → "100.4 %"."""
    value = share * 100
    if math.isnan(value):
        return "unknown"
    if math.isinf(value):
        return "far over"  # of a limit of nothing
    for decimals in (0, 1, 2):
        text = f"{value:.{decimals}f}"
        if (float(text) > 100) == (value > 100):
            return f"{text} %"
    return "just over 100 %" if value > 100 else "just under 100 %"


def sentence(words: str) -> str:
    """Words with a full stop, unless they end in a mark of their own."""
    return words if words.endswith(("?", ".", "!")) else f"{words}."


def upper_first(words: str) -> str:
    """Words as the beginning of a sentence."""
    return words[:1].upper() + words[1:]


def lower_first(words: str) -> str:
    """Words for the middle of a sentence: "The port’s watts" → "the port’s watts"; names stay."""
    return (
        words[0].lower() + words[1:]
        if words.startswith(("The ", "House ", "Will ", "Not ", "Goes", "Its ", "Nobody ", "Weak, ", "What "))
        else words
    )


def lasting(minutes: float, digits: int = 3) -> str:
    """How long something runs: "8.5 min", from three hours on "7.3 h"."""
    if minutes < IN_HOURS_FROM:
        return f"{plain_number(minutes, digits)} min"
    return f"{plain_number(minutes / 60, digits)} h"


def lasting_in_words(minutes: float, digits: int = 3) -> str:
    """The same in full: "18 minutes", "12 hours"."""
    return lasting(minutes, digits).replace(" min", " minutes").replace(" h", " hours")
