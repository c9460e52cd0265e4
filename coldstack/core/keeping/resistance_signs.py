"""Signs in a pack's resistances: a cell against its neighbours and its own first, growth, and jumps.

A reading is cell × warmth + contact + what all cells have in common. Warmth changes the first alone. So cells
are compared within one reading, as read; what one read more than its neighbours from the first day may be a
contact or a cell that was bad when bought, and only what follows the neighbours through warm and cold is a
cell. Over time levels are compared at 25 °C, with as much taken for common as makes them most alike.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

from coldstack.core.keeping.evidence import FEWEST, FIRST, LATEST, Evidence, above, limits
from coldstack.core.keeping.records import Record, cell_ratios, cells_within, resistance_at_25_c
from coldstack.core.packs.health import Level
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.units import DEG
from coldstack.core.working import Step, Working

METER_SHARE = 0.1
"""Chargers read a resistance to about so much: within it, it is as at first. House figure."""
CONTACT_MOHM = 2.0
"""What a balance pin or its plug may add to one cell from the first day. House figure."""
COMMON_MOHM, COMMON_SHARE = 2.0, 0.5
"""What plug, leads and meter may add to every cell alike at most, and of the lowest reading. House figure."""
SCATTER = 0.07
"""One standard deviation of a cell over its neighbours within one reading. House figure."""
SURELY = 7.0
"""By so much likelier in logarithms (a thousand times) an excess is a cell's than a contact's, or the other
way round, before that is said. House figure."""
ASKED = 10
"""So many readings long it is asked about; who has read it as often has cleaned the plug, or lives with it.
House figure."""
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
    """Resistances of one record that can be compared over time: at 25 °C, and as read. [mΩ]"""

    day: float
    cycle: int
    cells: tuple[float, ...]
    as_read: tuple[float, ...] = ()
    by: str = ""
    """By whom."""

    @property
    def at_25(self) -> float:
        """Of the middle cell."""
        return median(self.cells)

    def without(self, common_mohm: float) -> float:
        """The middle cell's at 25 °C, so much of what was read left out."""
        seen = median(self.as_read or self.cells)
        return self.at_25 * (1 - common_mohm / seen)


def like_with_like(pack: Pack, records: Sequence[Record]) -> list[Read]:
    """The records whose levels can be compared, in their order."""
    return [
        Read(r.day, r.cycle, cells, r.cell_mohm or (), r.read_by)
        for r in records
        if (cells := resistance_at_25_c(r)) and len(cells) == pack.series
    ]


def within_readings(pack: Pack, records: Sequence[Record]) -> list[Read]:
    """The records whose cells can be compared with each other, as they were read."""
    return [
        Read(r.day, r.cycle, cells)
        for r in records
        if (cells := cells_within(r)) and len(cells) == pack.series
    ]


def outlier(pack: Pack, read: Sequence[Read], rules: HouseRules) -> Evidence | str:
    """The cell whose resistance stands out from its neighbours', but for what a contact explains from its
    first day; ``read`` are the cells as read."""
    if pack.series < 2:
        return ""
    if len(read) < FEWEST:
        early = f"cell against cell ({len(read)} of {FEWEST} readings)"
        return _twice_odd(read, rules) or early
    own = contacts(read)
    latest = [r.cells for r in read[-LATEST:]]
    seen = [median(cell_ratios(c)[k] for c in latest) for k in range(pack.series)]
    ratios = [median(_against(c, k, own[k]) for c in latest) for k in range(pack.series)]
    worst = max(range(pack.series), key=ratios.__getitem__)
    level = above(ratios[worst], rules.cell_watch, rules.cell_bad, bad="retire")
    sentence = _cell_sentence(level, worst, ratios, seen)
    odd, which = max(range(pack.series), key=seen.__getitem__), worst
    if level == "fine" and seen[odd] >= rules.cell_watch:
        level, sentence = _from_the_first_day(read, odd, seen[odd])
        which = odd
    steps = tuple(
        Step(
            f"Cell {k + 1}",
            "(R − what a contact explains from its first day) ÷ median of the others",
            _told(seen[k], own[k], ratios[k]),
        )
        for k in range(pack.series)
    )
    return Evidence(
        "cell",
        level,
        sentence,
        Working(
            "Cell against cell",
            (*steps, limits("watch, bad", f"{rules.cell_watch:g}, {rules.cell_bad:g}", rules)),
            f"Median of the latest {len(latest)} readings, each cell against the others in the same one.",
        ),
        None if level == "fine" else which + 1,
    )


def _cell_sentence(level: Level, worst: int, ratios: Sequence[float], seen: Sequence[float]) -> str:
    if level == "fine":
        return f"Its cells resist alike, within {(max(ratios) - 1) * 100:.0f} %."
    tail = ": one bad cell condemns the pack." if level == "retire" else "."
    return f"Cell {worst + 1} resists {seen[worst]:.2f} times as much as its neighbours{tail}"


def _twice_odd(read: Sequence[Read], rules: HouseRules) -> Evidence | None:
    """A cell that stood out in both of the first two readings: worth a question already."""
    if len(read) < 2:
        return None
    seen = [min(cell_ratios(r.cells)[k] for r in read) for k in range(len(read[0].cells))]
    odd = max(range(len(seen)), key=seen.__getitem__)
    if seen[odd] < rules.cell_watch:
        return None
    level, sentence = _from_the_first_day(read, odd, seen[odd])
    steps = (Step(f"Cell {odd + 1}", "R ÷ median of the others, the lesser of two", f"{seen[odd]:.2f}"),)
    working = Working("Cell against cell", steps)
    return Evidence("cell", "again" if level == "watch" else level, sentence, working, odd + 1)


def _from_the_first_day(read: Sequence[Read], cell: int, seen: float) -> tuple[Level, str]:
    """What a cell that read more than its neighbours from the first day is: a pin, a cell, or not known."""
    words = f"Cell {cell + 1} reads {seen:.2f} times its neighbours, as from its first day: "
    likelier = cell_over_contact(read, cell)
    if likelier >= SURELY:
        return "watch", words + "in cold and warmth it rises and falls as they do: no pin."
    if likelier <= -SURELY:
        return "fine", words + "a contact, since cold and warmth leave it as it is."
    if len(read) > ASKED:
        return "fine", words + "a pin, or a cell that was so when bought."
    ask = "a pin or a cell. Clean the balance plug and read it again; if it stays, send the pack back."
    return "again", words + ask


def cell_over_contact(read: Sequence[Read], cell: int) -> float:
    """By how much likelier, in logarithms, what one cell reads more than its neighbours is a share of theirs
    (its own resistance, which warmth changes as theirs) than always the same milliohms (a contact)."""
    share = contact = share_weight = contact_weight = 0.0
    rows = []
    for r in read:
        others = median([*r.cells[:cell], *r.cells[cell + 1 :]])
        more, error = r.cells[cell] - others, SCATTER * r.cells[cell]
        rows.append((more, others, error))
        share, share_weight = share + more * others / error**2, share_weight + (others / error) ** 2
        contact, contact_weight = contact + more / error**2, contact_weight + 1 / error**2
    ratio, milliohms = share / share_weight, contact / contact_weight
    return 0.5 * sum(((m - milliohms) / e) ** 2 - ((m - ratio * o) / e) ** 2 for m, o, e in rows)


def _told(seen: float, own: float, judged: float) -> str:
    return (
        f"{judged:.2f}" if own < 0.05 else f"{judged:.2f} ({seen:.2f} with the {own:.1f} mΩ of its first day)"
    )


def contacts(read: Sequence[Read]) -> list[float]:
    """What each cell read above its neighbours at first, as far as a contact explains it: as read, since no
    warmth changes a contact. [mΩ]"""
    first = read[:FIRST]

    def more(cells: tuple[float, ...], k: int) -> float:
        return cells[k] - median([*cells[:k], *cells[k + 1 :]])

    return [
        min(max(median(more(r.cells, k) for r in first), 0.0), CONTACT_MOHM)
        for k in range(len(first[0].cells))
    ]


def _against(cells: tuple[float, ...], k: int, contact_mohm: float) -> float:
    return (cells[k] - contact_mohm) / median([*cells[:k], *cells[k + 1 :]])


def _commons(read: Sequence[Read]) -> tuple[float, float]:
    """What may be common to all cells: nothing, and the most. [mΩ]"""
    lowest = min(median(r.as_read or r.cells) for r in read)
    return 0.0, min(COMMON_MOHM, COMMON_SHARE * lowest)


def growth(read: Sequence[Read], rules: HouseRules) -> Evidence | str:
    """Resistance now over the pack's own first readings."""
    if len(read) < 2 * FEWEST:
        return f"resistance over its first ({len(read)} of {2 * FEWEST} readings)"
    first, now = (median(r.at_25 for r in part) for part in (read[:FIRST], read[-LATEST:]))
    # what all cells have in common no warmth changes: of what it may be, that which accuses the least
    times = min(
        median(r.without(c) for r in read[-LATEST:]) / median(r.without(c) for r in read[:FIRST])
        for c in _commons(read)
    )
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
        # at once: what grew from reading to reading is no jump
        if values[i] < AT_ONCE * values[i - 1]:
            continue
        before = median(values[max(0, i - FIRST) : i])
        after = values[i : i + LATEST]
        times = median(after) / before
        stays = median(values[max(i, len(values) - LATEST) :]) / before
        if min(after[:2]) / before >= JUMPED and stays >= STAYS * times and times >= JUMPED:
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


def worst_jump(pack: Pack, read: Sequence[Read], within: Sequence[Read]) -> Jumper | None:
    """The largest jump of the pack, or of one cell against its neighbours but for its contact; one that was
    agreed on before one that was not. ``within`` are the cells as read."""
    found = [_whole_jump(read[-JUMPS_WITHIN:])]
    if pack.series > 1 and within:
        own, cells = contacts(within), within[-JUMPS_WITHIN:]
        for k in range(pack.series):
            jump = jump_in([_against(r.cells, k, own[k]) for r in cells])
            if jump is not None:
                who = f"Cell {k + 1}, against its neighbours,"
                found.append(Jumper(who, " times", jump, cells[jump.at - 1], cells[jump.at]))
    return max((x for x in found if x is not None), key=lambda j: (j.jump.agreed, j.jump.times), default=None)


def _whole_jump(read: Sequence[Read]) -> Jumper | None:
    """A jump of the pack's resistance that nothing common to all cells explains away."""
    if not read:
        return None
    found = [jump_in([r.without(c) for r in read]) for c in _commons(read)]
    known = [j for j in found if j is not None]
    if len(known) < len(found):
        return None
    jump = min(known, key=lambda j: (j.agreed, j.times))
    return Jumper("The pack’s resistance", " mΩ", jump, read[jump.at - 1], read[jump.at])


def jumped(pack: Pack, read: Sequence[Read], within: Sequence[Read]) -> Evidence | str:
    """A jump of the pack's or of one cell's resistance between two readings, as a crash makes it."""
    found = worst_jump(pack, read, within)
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
