"""A slip in what is told of a run or a charge: against what the pack holds, and what the model draws."""

from __future__ import annotations

from coldstack.core.asking.question import Question
from coldstack.core.asking.slips import Figures, SlippedFigure, likely_slip, off, outside
from coldstack.core.cells.chemistry import chemistry
from coldstack.core.packs.pack import Pack
from coldstack.core.units import plain_number

PUT_BACK, PUT_BACK_WARMING = 1.25, 1.7
"""No more than so many times its capacity goes back into a pack: lithium takes hardly more than it gave, and
some packs hold a tenth more than they say; what is charged to its peak warms away up to a third of it. House
figures."""
MINUTES_SIGMA, SHARE_SIGMA = 0.50, 0.20
"""How far a run is from what the model's draw lets one expect, and what goes back from what the pack holds; a
short one is no slip. House figures."""
SHORTEST = 0.12
"""Of a whole run, the shortest that people log. House figure."""
_TURNS = {"minutes": (0.1, 10.0, 0.01, 60.0, 1 / 60), "put_back_mah": (0.1, 10.0, 0.01, 100.0)}


def most_put_back(chemistry_id: str) -> float:
    """So many times its capacity goes back into a pack at most, losses included."""
    return PUT_BACK if chemistry(chemistry_id).charge_method == "cc_cv" else PUT_BACK_WARMING


def slips_in_run(
    pack: Pack, *, average_a: float | None, minutes: float | None, put_back_mah: float | None
) -> list[Question]:
    """What to ask of a run: the figure that a turn of the finger brings near what the pack holds and what the
    model draws on average, where that is known. [A], [min], [mAh]"""
    held_mah = 1000 * pack.held_ah
    told = {"minutes": minutes, "put_back_mah": put_back_mah}
    figures = {name: value for name, value in told.items() if value}
    if not figures:
        return []
    most = most_put_back(pack.chemistry)

    def fit(f: Figures) -> float:
        found, run, back = 0.0, f.get("minutes"), f.get("put_back_mah")
        if back:
            found += outside(back, SHORTEST * held_mah, most * held_mah, SHARE_SIGMA)
        if run and average_a:
            longest = 60 * pack.held_ah / average_a
            found += outside(run, SHORTEST * longest, 1.2 * longest, MINUTES_SIGMA)
        if run and back and average_a:
            found += off(back / 1000 * 60 / run, average_a, MINUTES_SIGMA)
        return found

    slip = likely_slip(figures, {name: _TURNS[name] for name in figures}, fit)
    if slip is None:
        return beyond(put_back_mah, held_mah, most)
    return [Question(slip.field, _words(slip, pack, average_a), slip.meant)]


def _words(slip: SlippedFigure, pack: Pack, average_a: float | None) -> str:
    n, held_ah = plain_number, pack.held_ah
    if slip.field == "put_back_mah":
        told, meant = f"{n(slip.told, 6)} mAh", f"{n(slip.meant, 4)} mAh"
        return (
            f"{told} is {n(slip.told / 1000 / held_ah, 2)} times what the pack holds: did you mean {meant}?"
        )
    run = f"{n(slip.told, 4)} min on {n(1000 * held_ah, 4)} mAh"
    usual = f", and by its draw it runs {n(48 * held_ah / average_a, 2)} min" if average_a else ""
    return f"{run}{usual}: did you mean {n(slip.meant)} min?"


def beyond(put_back_mah: float | None, held_mah: float, most: float) -> list[Question]:
    """More than can be, though no turn of the finger explains it."""
    if put_back_mah is None or put_back_mah <= most * held_mah:
        return []
    back, times = f"{plain_number(put_back_mah, 6)} mAh", plain_number(put_back_mah / held_mah, 2)
    words = f"{back} is {times} times what the pack holds: is its capacity right?"
    return [Question("put_back_mah", words, put_back_mah)]
