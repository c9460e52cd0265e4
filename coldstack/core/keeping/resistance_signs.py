"""Signs in a pack's resistances: a cell against its neighbours and its own first, growth, and jumps.

A cell is judged by what changes: a contact of a milliohm or two at one balance pin is there from the first
day, and is no weak cell.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

from coldstack.core.keeping.evidence import FEWEST, FIRST, LATEST, Evidence, above, limits
from coldstack.core.keeping.records import Record, cell_ratios, resistance_at_25_c
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.units import DEG
from coldstack.core.working import Step, Working

METER_SHARE = 0.1
"""Chargers read a resistance to about so much: within it, it is as at first. House figure."""
CONTACT_MOHM = 2.0
"""What a balance pin or its plug may add to one cell from the first day. House figure."""
JUMPED, LONE_JUMP = 1.3, 1.4
"""So many times what it was, twice in a row, is a jump; once, it is read again. House figures: meters scatter
by a tenth."""
JUMPS_WITHIN = 40
"""Readings, the latest, in which a jump is looked for; an older one is told by growth."""
AT_ONCE = 1.2
"""It differs so much from the reading just before it."""
STAYS = 0.9
"""A jump counts as long as so much of it is still there."""


@dataclass(frozen=True, slots=True)
class Read:
    """Resistances of one record that can be compared: at 25 °C. [mΩ]"""

    day: float
    cycle: int
    cells: tuple[float, ...]


def like_with_like(pack: Pack, records: Sequence[Record]) -> list[Read]:
    """The records that can be compared, in their order."""
    return [
        Read(r.day, r.cycle, cells)
        for r in records
        if (cells := resistance_at_25_c(r)) and len(cells) == pack.series
    ]


def outlier(pack: Pack, read: Sequence[Read], rules: HouseRules) -> Evidence | str:
    """The cell whose resistance stands out from its neighbours', but for what it had from its first day."""
    if pack.series < 2:
        return ""
    if len(read) < FEWEST:
        return f"cell against cell ({len(read)} of {FEWEST} readings)"
    own = _contacts(read[:FIRST])
    latest = [r.cells for r in read[-LATEST:]]
    seen = [median(cell_ratios(c)[k] for c in latest) for k in range(pack.series)]
    ratios = [median(_against(c, k, own[k]) for c in latest) for k in range(pack.series)]
    worst = max(range(pack.series), key=ratios.__getitem__)
    level = above(ratios[worst], rules.cell_watch, rules.cell_bad, bad="retire")
    steps = tuple(
        Step(
            f"Cell {k + 1}",
            "(R − what it had more from its first day) ÷ median of the others",
            _told(seen[k], own[k], ratios[k]),
        )
        for k in range(pack.series)
    )
    return Evidence(
        "cell",
        level,
        _cell_sentence(level, worst, ratios, seen, rules),
        Working(
            "Cell against cell",
            (*steps, limits("watch, bad", f"{rules.cell_watch:g}, {rules.cell_bad:g}", rules)),
            f"Median of the latest {len(latest)} readings at 25{DEG}.",
        ),
    )


def _cell_sentence(
    level: str, worst: int, ratios: Sequence[float], seen: Sequence[float], rules: HouseRules
) -> str:
    tail = ": one bad cell condemns the pack." if level == "retire" else "."
    if level != "fine":
        return f"Cell {worst + 1} resists {seen[worst]:.2f} times as much as its neighbours{tail}"
    odd = max(range(len(seen)), key=seen.__getitem__)
    if seen[odd] >= rules.cell_watch:
        return (
            f"Cell {odd + 1} reads {seen[odd]:.2f} times its neighbours, as from its first day: a contact, "
            "more likely than a cell."
        )
    return f"Its cells resist alike, within {(max(ratios) - 1) * 100:.0f} %."


def _told(seen: float, own: float, judged: float) -> str:
    return (
        f"{judged:.2f}" if own < 0.05 else f"{judged:.2f} ({seen:.2f} with the {own:.1f} mΩ of its first day)"
    )


def _contacts(first: Sequence[Read]) -> list[float]:
    """What each cell read above its neighbours at first, as far as a contact explains it. [mΩ]"""

    def more(cells: tuple[float, ...], k: int) -> float:
        return cells[k] - median([*cells[:k], *cells[k + 1 :]])

    return [
        min(max(median(more(r.cells, k) for r in first), 0.0), CONTACT_MOHM)
        for k in range(len(first[0].cells))
    ]


def _against(cells: tuple[float, ...], k: int, contact_mohm: float) -> float:
    return (cells[k] - contact_mohm) / median([*cells[:k], *cells[k + 1 :]])


def growth(read: Sequence[Read], rules: HouseRules) -> Evidence | str:
    """Resistance now over the pack's own first readings."""
    if len(read) < 2 * FEWEST:
        return f"resistance over its first ({len(read)} of {2 * FEWEST} readings)"
    first = median(median(r.cells) for r in read[:FIRST])
    now = median(median(r.cells) for r in read[-LATEST:])
    times = now / first
    level = above(times, rules.growth_watch, rules.growth_bad, bad="light")
    said = math.floor(100 * times + 1e-9) / 100  # never up: 1.50 times is where watching begins
    words = (
        f"Resistance as at first ({said:.2f} times)."
        if abs(times - 1) <= METER_SHARE
        else f"Resistance {said:.2f} times its own first."
    )
    return Evidence(
        "growth",
        level,
        words,
        Working(
            "Resistance over its first",
            (
                Step("First", f"median of the first readings at 25{DEG}", f"{first:.2f} mΩ a cell"),
                Step("Now", "median of the latest", f"{now:.2f} mΩ a cell"),
                Step("Growth", "now ÷ first", f"{said:.2f}"),
                limits("watch, bad", f"{rules.growth_watch:g}, {rules.growth_bad:g}", rules),
            ),
        ),
    )


@dataclass(frozen=True, slots=True)
class Jump:
    """A reading that is so many times those before it: its place among them, and whether the next agreed."""

    at: int
    before: float
    times: float
    agreed: bool


def jump_in(values: Sequence[float]) -> Jump | None:
    """The largest jump that two readings agree on and that is still there, else one of the last reading
    alone."""
    found: list[Jump] = []
    for i in range(FEWEST, len(values) - 1):
        before = median(values[max(0, i - FIRST) : i])
        after = values[i : i + LATEST]
        times = median(after) / before
        stays = median(values[max(i, len(values) - LATEST) :]) / before
        # at once: what grew from reading to reading is no jump
        at_once = values[i] >= AT_ONCE * values[i - 1]
        if at_once and min(after[:2]) / before >= JUMPED and stays >= STAYS * times and times >= JUMPED:
            found.append(Jump(i, before, times, agreed=True))
    if found:
        return max(found, key=lambda j: j.times)
    if len(values) > FEWEST:
        before = median(values[-1 - LATEST : -1])
        times = values[-1] / before
        if times >= LONE_JUMP:
            return Jump(len(values) - 1, before, times, agreed=False)
    return None


@dataclass(frozen=True, slots=True)
class Jumper:
    """What jumped, in words, with the unit of its values, and the readings on either side."""

    who: str
    unit: str
    jump: Jump
    last: Read
    first: Read


def worst_jump(pack: Pack, read: Sequence[Read]) -> Jumper | None:
    """The largest jump of the pack or of one cell against its neighbours; one that was agreed on before one
    that was not."""
    read = read[-JUMPS_WITHIN:]
    lines = [("The pack’s resistance", " mΩ", [median(r.cells) for r in read])]
    if pack.series > 1:
        ratios = [cell_ratios(r.cells) for r in read]
        lines += [
            (f"Cell {k + 1}, against its neighbours,", " times", [r[k] for r in ratios])
            for k in range(pack.series)
        ]
    found = [
        Jumper(who, unit, jump, read[jump.at - 1], read[jump.at])
        for who, unit, values in lines
        if (jump := jump_in(values)) is not None
    ]
    return max(found, key=lambda j: (j.jump.agreed, j.jump.times), default=None)


def jumped(pack: Pack, read: Sequence[Read]) -> Evidence | str:
    """A jump of the pack's or of one cell's resistance between two readings, as a crash makes it."""
    found = worst_jump(pack, read)
    if found is None:
        return ""
    times = f"{found.jump.times:.2f} times what it was"
    words = (
        f"{found.who} jumped to {times}, and stays there."
        if found.jump.agreed
        else f"{found.who} read {times}. Read it again, now: a contact, or it broke."
    )
    steps = (
        Step("Before", f"median of up to {FIRST} readings before it", f"to cycle {found.last.cycle}"),
        Step("After", "median of those from it on", f"from cycle {found.first.cycle}: {times}"),
        Step(
            "Counts", "twice in a row, once: read again", f"{JUMPED:g}, {LONE_JUMP:g} times", "house figures"
        ),
    )
    return Evidence("jump", "watch" if found.jump.agreed else "again", words, Working("A jump", steps))
