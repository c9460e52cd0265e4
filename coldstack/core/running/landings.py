"""How a run ended, in one press: what was seen of the pack, and what to do now where something is wrong."""

from __future__ import annotations

from dataclasses import dataclass

_OUTSIDE = (
    "Put it outside, on stone or bare earth, away from people, cars and what burns; not into a pocket or a "
    "bag."
)
_BURNS = (
    "If it smokes or hisses: away from it, keep others away, call the fire service. Do not breathe the smoke."
)


@dataclass(frozen=True, slots=True)
class Landing:
    """One way to land: in a word, the signs that it tells of the pack, and what to do now, in order."""

    id: str
    name: str
    signs: tuple[str, ...] = ()
    todo: tuple[str, ...] = ()


LANDINGS: tuple[Landing, ...] = (
    Landing("fine", "Fine"),
    Landing(
        "hot",
        "Hot",
        ("warm",),
        (
            "Unplug it, and lay it in the shade on something that does not burn.",
            "Feel it every few minutes. If it goes on warming or swells: outside, and away from it.",
            "It is charged when it is as cool as the air. Land earlier next time, or run a stronger pack.",
        ),
    ),
    Landing(
        "low",
        "A cell low",
        ("low_cell",),
        (
            "Unplug it: controller and receiver go on drawing.",
            "Let it rest some minutes, then read each cell. The low one tells whether the pack is done for.",
            "Do not charge it before that; a cell that rests below its limit is damaged.",
        ),
    ),
    Landing(
        "puffed",
        "Puffed",
        ("swollen",),
        (
            "Unplug it, without pressing or bending it.",
            _OUTSIDE,
            _BURNS,
            "It is not run or charged again: its page says how it is retired.",
        ),
    ),
    Landing(
        "crashed",
        "Crashed",
        ("crashed",),
        (
            "Throttle down and unplug it, if its plug can be reached without tearing at it.",
            _OUTSIDE,
            "Watch it for half an hour: what is bent inside may warm up late.",
            _BURNS,
            "Then look, feel and read each cell, before it is charged or run again.",
        ),
    ),
)
