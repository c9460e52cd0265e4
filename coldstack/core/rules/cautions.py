"""Plain-word cautions, each tied to the thing it applies to. The screens show them at that place."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Caution:
    """What to mind, and why."""

    id: str
    sentence: str


BUILD_FROM_CELLS = Caution(
    "build_from_cells",
    "Welding, fusing and insulating loose cells is for people trained and equipped for it: a short inside a pack cannot be "
    "switched off. Buy it made, or have it made.",
)
PARALLEL_PAIR = Caution(
    "parallel_pair",
    "Join two packs in parallel only if they are the same make, age and cell count and rest within the house rule’s volts of "
    "each other: the fuller one rushes into the emptier one.",
)
SERIES_PAIR = Caution(
    "series_pair",
    "Two packs in series must be of the same make, age and state: the weaker one is driven empty first. Charge and read each "
    "on its own.",
)
NO_CUTOFF = Caution(
    "no_cutoff",
    "This controller does not stop by itself when a lithium pack runs down. Fit an alarm on the balance lead, and stop when it sounds.",
)
ADVICE = Caution(
    "advice",
    "Cold Stack advises. Makers’ data sheets, local codes and licensed practice come first.",
)
