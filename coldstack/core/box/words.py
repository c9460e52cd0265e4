"""The box in words: what it comes to, and what a purchase gives."""

from __future__ import annotations

from collections.abc import Sequence

from coldstack.core.box.buying import Proposal
from coldstack.core.units import lasting


def headline(packs: int, models: Sequence[str], short: Sequence[str]) -> str:
    """What a box of so many packs comes to on a day on which all models are out; ``short`` the names of those
    that have too few."""
    if packs == 0:
        return "There is no pack in the box yet."
    if not models:
        return "There is no model yet that a pack could run."
    if not short:
        return "Every model has a pack for each run of a day on which all are out."
    return f"Too few packs for a day with all out: {', '.join(short)}."


def gain_words(p: Proposal, models: Sequence[str]) -> str:
    """What a proposal lets be run more, of which models."""
    more = [f"{n} more run{'s' * (n != 1)} of {models[m]}" for m, n in enumerate(p.more_packs) if n > 0]
    gains = f" ({', '.join(more)} on a day)" if more else ""
    return f"{lasting(p.more_minutes, 2)} of running a month more{gains}"
