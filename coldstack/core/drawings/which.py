"""How sure it is which plug one has, in words, and what to measure next."""

from __future__ import annotations

from collections.abc import Sequence

from coldstack.core.chain.plugs import plug_family
from coldstack.core.drawings.faces import MEASURES, PlugMatch, faces, look_apart, told_apart
from coldstack.core.units import MM

FEW = 4


def which_words(found: Sequence[PlugMatch], *, told: bool) -> str:
    """What is left of all families, and the measure that would tell the two likeliest apart."""
    if not told:
        return "Say what you see of it, or measure it with a rule."
    if not found:
        return "None of the table is like that. Measure again, or add a family of your own in Gear."
    names = [plug_family(x.family).name for x in found]
    if len(found) == 1:
        return f"It is like {names[0]} and like no other here. Try it in its mate before you solder."
    opening = (
        f"It may be {' or '.join(names)}." if len(found) <= FEW else f"{len(found)} families are like that."
    )
    known = faces()
    first, second = known[found[0].family], known[found[1].family]
    if look := look_apart(first, second):
        return f"{opening} {look}"
    if (apart := told_apart(first, second)) is None:
        return opening
    a, b = sorted((apart.one_mm, apart.other_mm))
    return f"{opening} Next measure: {MEASURES[apart.measure]}, {a:g}{MM} or {b:g}{MM}?"
