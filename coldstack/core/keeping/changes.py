"""What changed in a pack, and since when: its first figures beside those of now, how long a sign stands."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from statistics import median

from coldstack.core.keeping.evidence import FEWEST, FIRST, LATEST, Evidence
from coldstack.core.keeping.health import evidence_of
from coldstack.core.keeping.records import Record, cell_ratios
from coldstack.core.keeping.resistance_signs import Read, like_with_like, within_readings, worst_jump
from coldstack.core.packs.health import LEVELS, Level
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import STEADY, HouseRules

LOOKED_BACK = 60
"""Records that are looked back through for the day on which a sign began."""

Figures = list[tuple[float, float]]
"""Days and values."""


@dataclass(frozen=True, slots=True)
class FigureChange:
    """One figure of a pack at first and now, as medians of up to five, and the level of its sign.

    ``since_day``: of the record with which that sign came, None while it is fine; ``before_that`` says that
    it may have come earlier still. Days count as in `Record`.
    """

    id: str
    name: str
    first: str
    now: str
    times: float
    first_day: float
    level: Level
    since_day: float | None
    before_that: bool = False


def changes(
    pack: Pack,
    records: Sequence[Record],
    evidence: Sequence[Evidence],
    *,
    rules: HouseRules = STEADY,
) -> tuple[FigureChange, ...]:
    """First and now of what was measured often enough, what changed for the worse first."""
    levels = {e.id: e.level for e in evidence}
    out = list(_jump(pack, records, levels))
    for sign, name, unit, places, values in _measured(pack, records):
        if len(values) < FEWEST + 1:
            continue
        first, now = (median(v for _, v in part) for part in (values[:FIRST], values[-LATEST:]))
        level = levels.get(sign, "fine")
        since, before = _since(pack, records, sign, rules) if level != "fine" else (None, False)
        times = now / first if first else 1.0
        words = (f"{first:.{places}f}{unit}", f"{now:.{places}f}{unit}")
        out.append(FigureChange(sign, name, *words, times, values[0][0], level, since, before))
    return tuple(sorted(out, key=lambda c: -LEVELS.index(c.level)))


def _jump(pack: Pack, records: Sequence[Record], levels: dict[str, Level]) -> Iterator[FigureChange]:
    """A jump, with the day of the reading that shows it first."""
    found = worst_jump(pack, like_with_like(pack, records), within_readings(pack, records))
    if found is None or "jump" not in levels:
        return
    before, after = found.jump.before, found.jump.before * found.jump.times
    first, now = (f"{v:.2f}{found.unit}" for v in (before, after))
    name = f"{found.who.rstrip(',').replace(', against', ' over')}: a jump"
    day = found.first.day
    yield FigureChange("jump", name, first, now, found.jump.times, found.last.day, levels["jump"], day)


def _measured(pack: Pack, records: Sequence[Record]) -> list[tuple[str, str, str, int, Figures]]:
    """Each figure that is followed: the sign it belongs to, its name, unit and places, its values."""
    read = like_with_like(pack, records)

    def of(take: Callable[[Record], float | None]) -> Figures:
        return [(r.day, v) for r in records if (v := take(r)) is not None]

    out: list[tuple[str, str, str, int, Figures]] = [
        ("growth", "Resistance of a cell", " mΩ", 2, [(r.day, median(r.cells)) for r in read]),
        ("capacity", "Capacity", " Ah", 2, of(lambda r: r.capacity_ah)),
        ("minutes", "Minutes of a run", " min", 1, of(lambda r: r.run_minutes)),
        ("balancing", "Minutes of balancing", " min", 0, of(lambda r: r.balance_min)),
    ]
    if pack.series > 1:
        worst = _most_changed(read)
        ratios = [(r.day, cell_ratios(r.cells)[worst]) for r in read]
        out.insert(1, ("cell", f"Cell {worst + 1} over its neighbours", " times", 2, ratios))
        out.append(("spread", "Cells apart at rest", " V", 3, of(_apart)))
    return out


def _apart(r: Record) -> float | None:
    return max(r.rest_cell_v) - min(r.rest_cell_v) if r.rest_cell_v else None


def _most_changed(read: Sequence[Read]) -> int:
    """The cell whose ratio to its neighbours grew most from its first readings to the latest; the first, of
    none."""
    if not read:
        return 0

    def times(k: int) -> float:
        first, now = (
            median(cell_ratios(r.cells)[k] for r in part) for part in (read[:FIRST], read[-LATEST:])
        )
        return now / first

    return max(range(len(read[0].cells)), key=times)


def _since(pack: Pack, records: Sequence[Record], sign: str, rules: HouseRules) -> tuple[float | None, bool]:
    """Day of the record with which a sign left "fine" for good, and whether that is only as far as was
    looked."""
    day = records[-1].day
    for n in range(len(records) - 1, max(len(records) - LOOKED_BACK, 0), -1):
        found = evidence_of(pack, records[:n], rules=rules)[0]
        if next((e.level for e in found if e.id == sign), "fine") == "fine":
            return day, False
        day = records[n - 1].day
    return day, True
