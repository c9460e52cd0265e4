"""A new plug on wires that cannot be switched off: what to cut, when, and which end is insulated meanwhile.

A pack's two wires are done one after the other; what is bare then has no volts towards anything else that is
bare. A model's are dead while no pack is in it.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Literal

from coldstack.core.chain.plugs import PlugEnd, plug_family
from coldstack.core.drawings.circuit import LIVE_V, Cell, Circuit, Wire, state_of
from coldstack.core.drawings.forbidden import DOES

WireEnd = Literal["old", "bare", "open", "new"]
"""Where one of two wires ends: in the old plug; cut and bare; at the new plug
with the joint in the open; there under its sleeve."""
Whose = Literal["pack", "model"]
IN_THE_OPEN: tuple[WireEnd, ...] = ("bare", "open")


@dataclass(frozen=True, slots=True)
class SolderStep:
    """One step, and how both wires end after it; ``live`` says that what is bare has the pack behind it."""

    id: str
    whose: Whose
    sentence: str
    why: str
    plus: WireEnd
    minus: WireEnd
    cut: bool
    live: bool
    bare: str
    """What lies in the open, in words."""


@dataclass(frozen=True, slots=True)
class Soldering:
    """All steps from one plug to another. ``never`` is what the steps are there to keep from happening."""

    name: str
    old: dict[Whose, str]
    """Names of the plugs that go, by whose they are."""
    new: str
    steps: tuple[SolderStep, ...]
    never: SolderStep
    does: str
    sentence: str


def soldering(
    *,
    old: PlugEnd,
    model: PlugEnd,
    new: str,
    both: bool,
    pack_v: float,
    packs: int = 1,
    stored: bool = True,
    balance_plug: bool = True,
) -> Soldering:
    """How a pack, or pack and model, get the plug ``new``; each of ``packs`` alike. ``stored``: there are
    volts at which it is best at rest."""
    family = plug_family(new)
    never = _cut_at_once()
    steps = [
        *(_on_model(family.name) if both else ()),
        *_on_pack(family.name, _rest(packs, stored, balance_plug)),
    ]
    assert all(apart_v(s, pack_v) < LIVE_V for s in steps), "two bare ends of one pack"
    assert shorted(never, pack_v), "cutters across both wires are a short circuit"
    whose = "pack and model" if both else "the pack"
    goes: dict[Whose, str] = {"pack": plug_family(old.family).name}
    if both:
        goes["model"] = plug_family(model.family).name
    return Soldering(
        name=f"{family.name} on {whose}, one wire at a time",
        old=goes,
        new=family.name,
        steps=tuple(steps),
        never=never,
        does=DOES["short"],
        sentence=_sentence(steps),
    )


def bare_poles(step: SolderStep) -> list[str]:
    """The wires whose metal lies in the open."""
    return _bare(step.plus, step.minus)


def apart_v(step: SolderStep, pack_v: float) -> float:
    """The most volts between any two pieces of metal that lie in the open in a step. [V]"""
    state = state_of(_circuit(step, pack_v), ())
    bare = [_end(pole) for pole in bare_poles(step)]
    return max((abs(state.between(a, b) or 0.0) for a, b in combinations(bare, 2)), default=0.0)


def shorted(step: SolderStep, pack_v: float) -> bool:
    """Whether the blades of the cutters, where they are across all that lies bare, short the pack."""
    bare = [_end(pole) for pole in bare_poles(step)] if step.cut else []
    blade = Circuit(wires=tuple(Wire(a, b) for a, b in combinations(bare, 2)))
    found = state_of(_circuit(step, pack_v) + blade, ())
    return any(f.kind == "short" for f in found.faults)


def _bare(plus: WireEnd, minus: WireEnd) -> list[str]:
    return [pole for pole, end in (("plus", plus), ("minus", minus)) if end in IN_THE_OPEN]


def _circuit(step: SolderStep, pack_v: float) -> Circuit:
    wires = (Wire("plus", _end("plus")), Wire("minus", _end("minus")))
    return Circuit((Cell("minus", "plus", pack_v, "pack"),) if step.whose == "pack" else (), wires)


def _end(pole: str) -> str:
    return f"end of {pole}"


def _step(
    step_id: str,
    whose: Whose,
    words: tuple[str, str],
    plus: WireEnd,
    minus: WireEnd,
    *,
    cut: bool = False,
) -> SolderStep:
    bare = _bare(plus, minus)
    live = whose == "pack" and bool(bare)
    said = f"{' and '.join(bare)}, {'live' if live else 'dead'}" if bare else ""
    return SolderStep(step_id, whose, *words, plus, minus, cut, live, said)


def _on_model(new: str) -> Iterator[SolderStep]:
    """The model first: nothing is live in it, and the pack’s new plug then has what to be tried against."""
    cut = "No pack near it: cut both of the model’s wires."
    yield _step(
        "model_cut",
        "model",
        (cut, "Dead, once its controller has been off a minute."),
        "bare",
        "bare",
        cut=True,
    )
    solder = f"Sleeves on, then solder both to its half of the {new}; shrink the sleeves over the joints."
    yield _step("model_new", "model", (solder, "Compare plus and minus by their marks."), "new", "new")


def _rest(packs: int, stored: bool, balance_plug: bool) -> str:
    """How a pack lies before it is cut."""
    how = [
        *(["at storage volts"] if stored else []),
        "on a bare bench",
        *(["balance plug taped over"] if balance_plug else []),
        "plugged into nothing",
    ]
    return f"{'Each pack by itself' if packs > 1 else 'The pack'}: {', '.join(how)}."


def _on_pack(new: str, rest: str) -> Iterator[SolderStep]:
    yield _step("rest", "pack", (rest, "It cannot be switched off."), "old", "old")
    cut = "Cut the minus wire alone, close to the old plug."
    yield _step("cut_minus", "pack", (cut, "Plus stays covered in the old plug."), "old", "bare", cut=True)
    half = "the half whose contacts lie covered"
    solder = f"Slip a sleeve on, solder it to minus of the new {new}, {half}."
    yield _step("solder_minus", "pack", (solder, "Plus is still in the old plug."), "old", "open")
    shrink = "Shrink the sleeve over the joint."
    yield _step("shrink_minus", "pack", (shrink, "Covered before plus is touched."), "old", "new")
    cut = "Now cut the plus wire alone."
    yield _step("cut_plus", "pack", (cut, "Minus lies under its sleeve."), "bare", "new", cut=True)
    solder = f"Slip a sleeve on, solder it to plus of the {new}."
    yield _step("solder_plus", "pack", (solder, "The iron touches one wire only."), "open", "new")
    test = "Shrink it. Then measure: red probe on plus, black on minus, the volts above zero."
    yield _step("test", "pack", (test, "Plus on minus burns what it is plugged into."), "new", "new")


def _cut_at_once() -> SolderStep:
    words = "Both wires in one snip", "The blades join plus and minus: they weld, and the pack burns."
    return _step("both_at_once", "pack", words, "bare", "bare", cut=True)


def _sentence(steps: Sequence[SolderStep]) -> str:
    """What is bare, step by step, for those who cannot see the pictures."""
    said = [f"{number} {step.bare or 'none'}" for number, step in enumerate(steps, 1)]
    return f"Bare metal by steps: {'; '.join(said)}."
