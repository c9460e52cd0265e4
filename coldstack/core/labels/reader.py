"""What a pack's label says: one line, typed or pasted, read into fields; contradictions are reported,
never chosen between silently."""

from __future__ import annotations

import re

from coldstack.core.chain.balance import series_of_wires
from coldstack.core.labels import figures, names
from coldstack.core.labels.checks import contradictions, fill_from_volts
from coldstack.core.labels.rates import read_rates
from coldstack.core.labels.reading import LabelReading
from coldstack.core.labels.text import TAKEN, Text


def read_label(
    line: str, *, balance_wires: int | None = None, measured_v: float | None = None
) -> LabelReading:
    """A label line as fields, with what contradicts what, what has to be asked and what is missing.

    Parameters
    ----------
    line : str
        As printed, in any order and spelling: "5S1P 18.5V 3900mAh 72.2Wh 40C/80C charge 3C".
    balance_wires : int, optional
        Wires counted in the balance plug: one more than cells in series. Fills a label that gives no cell
        count.
    measured_v : float, optional
        Volts read with a meter; a pack at rest lies between empty and full. Fills in where one cell count
        alone is possible.

    Never fails on any text: what cannot be read is named in ``unread``.

    Raises
    ------
    DomainError
        Only for a count of fewer than two balance wires.
    """
    text = _read(Text.of(line))
    reading = LabelReading.of(text.seen, text.asked)
    if balance_wires is not None:
        reading.add("wires_series", series_of_wires(balance_wires), f"{balance_wires} balance wires")
    fill_from_volts(reading, measured_v)
    reading.contradictions += [*contradictions(reading), *_left_alone(text)]
    reading.missing += [words for name, words in _WANTED if name not in reading.values]
    reading.unread = " ".join(text.left())
    return reading


def _read(text: Text) -> Text:
    """Each reader takes its words away from the text: the order is the order of who may take what."""
    names.read_chemistry(text)
    names.read_plugs(text)
    names.read_sizes_of_cells(text)
    names.read_wire(text)
    names.read_foreign_amps(text)
    figures.read_price(text)
    figures.read_energy_and_capacity(text)
    figures.read_volts(text)
    figures.read_sizes(text)
    figures.read_cells(text)
    read_rates(text)
    figures.read_bare_capacity(text)
    text.take(names.FILLERS, lambda m: {}, every=True)
    return text


_UNITS = re.compile(
    r"^[^\w€$£]*(?:\d[\d.,]*\s*)?(?:mah|ah|wh|volts?|v|amps?|a|c|s|p|g|grams?|oz|eur|usd|[€$£])[^\w]*$"
    r"|charg|burst|contin|\d\s*m?ah|\d\s*c(?![a-z])",
    re.I,
)


def _left_alone(text: Text) -> list[str]:
    """Units and words of rates that found no figure: then the figures may have gone to the wrong ones."""
    alone = [w for w in re.findall(rf"[^\s,;:/|(){TAKEN}]+", text.rest) if _UNITS.search(w) and len(w) < 40]
    if not alone:
        return []
    words = ", ".join(f"“{w}”" for w in alone[:4])
    return [f"Nothing could be made of {words}: check each figure against the label."]


_WANTED = (
    ("series", "cells in series: count the balance wires, one more than cells"),
    ("capacity_ah", "capacity in mAh"),
    ("label_c", "a C rating: it is taken as typical for the chemistry"),
    ("mass_g", "mass: put it on a scale"),
)
