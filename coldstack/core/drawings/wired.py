"""A wiring as it is drawn: parts, plugs in each other, how loaded they are, the steps, what must not be."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from coldstack.core.chain.balance import INTEGRATED
from coldstack.core.drawings.circuit import Mated
from coldstack.core.drawings.forbidden import Forbidden
from coldstack.core.drawings.strip import PlugStep
from coldstack.core.drawings.wiring import Plug, WiredBench, WiredPart
from coldstack.core.units import percent, upper_first


@dataclass(frozen=True, slots=True)
class Load:
    """What a pair of plugs (by the id of its first), or the wires of a part (by its id) carry. [A]"""

    at: str
    name: str
    current_a: float
    loading: float | None


@dataclass(frozen=True, slots=True)
class Wiring:
    """All of a chain. ``joined`` is how it ends; ``to_get`` are parts that nobody owns yet."""

    parts: tuple[WiredPart, ...]
    joined: tuple[Mated, ...]
    loads: tuple[Load, ...]
    plug_in: tuple[PlugStep, ...]
    pull_out: tuple[PlugStep, ...]
    forbidden: tuple[Forbidden, ...]
    to_get: tuple[str, ...]
    sentence: str


def chain_sentence(bench: WiredBench, joined: Sequence[Mated], loads: Iterable[Load]) -> str:
    """The wiring in words: each pair of plugs with the parts that it joins, then the warmest of all."""
    owner = {p.id: part for part in bench.parts for p in part.plugs}
    said = [
        f"{owner[m.a].name} into {owner[m.b].name} by {_by(bench.plug(m.a), bench.plug(m.b))}" for m in joined
    ]
    known = [x for x in loads if x.loading is not None]
    warmest = max(known, key=lambda x: x.loading or 0.0, default=None)
    words = upper_first("; ".join(said)) + "."
    if warmest is not None:
        words += f" Most loaded: {warmest.name}, {percent(warmest.loading or 0.0)}."
    return words


def _by(a: Plug, b: Plug) -> str:
    """A pair of plugs in words."""
    name = f"{a.name} balance plug" if a.what == "balance" else a.name
    if a.what == "balance" and a.family == INTEGRATED:
        name = "the balance wires in its main plug"
    return f"{name}, assumed" if a.assumed or b.assumed else name
