"""Plugging in, step by step: what is joined after each, what is live then, and what is wrong with it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from coldstack.core.drawings.circuit import Circuit, Fault, Mated, state_of


@dataclass(frozen=True, slots=True)
class Act:
    """One step to take: its words, and what it plugs together or pulls apart."""

    id: str
    sentence: str
    why: str = ""
    plug: tuple[Mated, ...] = ()
    pull: tuple[Mated, ...] = ()


@dataclass(frozen=True, slots=True)
class PlugStep:
    """One step taken: all that is plugged together after it, what of that is ``new``, and what was
    ``pulled``; ``live`` are plugs that are loose and have volts on them."""

    id: str
    sentence: str
    why: str
    joined: tuple[Mated, ...]
    new: tuple[Mated, ...]
    pulled: tuple[Mated, ...]
    live: tuple[str, ...]
    faults: tuple[Fault, ...]


def strip_of(circuit: Circuit, acts: Sequence[Act], *, begun: Sequence[Mated] = ()) -> list[PlugStep]:
    """The steps in their order, each with its circuit judged after every single plug of it; a fault of any of
    them is one of the step."""
    joined, steps = list(begun), []
    for act in acts:
        faults: list[Fault] = []
        found = None
        for m in act.plug:
            joined.append(m)
            found = state_of(circuit, joined)
            faults += (f for f in found.faults if f not in faults)
        if found is None or act.pull:
            joined = [m for m in joined if m not in act.pull]
            found = state_of(circuit, joined)
            faults += (f for f in found.faults if f not in faults)
        steps.append(
            PlugStep(
                id=act.id,
                sentence=act.sentence,
                why=act.why,
                joined=tuple(joined),
                new=act.plug,
                pulled=act.pull,
                live=tuple(sorted(found.live)),
                faults=tuple(faults),
            )
        )
    return steps
