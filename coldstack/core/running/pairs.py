"""Two equal packs in series as one: what they hold and resist together, how they read, and whether they may.

Each is charged, read and kept on its own; run they are one pack of twice the cells, which ends with the
emptiest cell of both.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from coldstack.core.chain.adapters import Adapter
from coldstack.core.errors import DomainError
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import PackReading, pack_reading, typed_reading
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.running.go import RunContext
from coldstack.core.running.limits import GoReason
from coldstack.core.sizing.pairs import PAIR_MASS, pairs, weaker
from coldstack.core.trial.candidates import Candidates, from_packs, suited
from coldstack.core.trial.job import Job

SIGN = "+"
"""Between the tags of two packs that run together, and between what they read."""
AS_LARGE = 0.03
"""Two packs in series that hold so much apart are not alike: the smaller is driven empty. House figure."""
MARKED = 0.08
"""So much apart they are not run together at all. House figure."""


def in_series(one: Pack, other: Pack) -> Pack:
    """Both as one pack, as weak as the weaker.

    Raises
    ------
    DomainError
        For packs of another chemistry or cell count, or one pack twice.
    """
    if one.id == other.id:
        raise DomainError("pack", "A pack is not run in series with itself.")
    if (one.chemistry, one.series, one.parallel) != (other.chemistry, other.series, other.parallel):
        words = f"{one.called} and {other.called} have other cells: only packs that are alike run in series."
        raise DomainError("pack", words)
    half, alike = _half(one, other), one.name == other.name
    return replace(
        half,
        id=f"{one.id}{SIGN}{other.id}",
        name=f"2 × {one.name} in series" if alike else f"{one.name} and {other.name} in series",
        series=2 * one.series,
        mass_g=PAIR_MASS * (one.mass_g + other.mass_g),
    )


def _half(one: Pack, other: Pack) -> Pack:
    """What stands for each of the two."""
    unfit = next((p for p in (one, other) if not p.fit), None)
    half = weaker(one, other)
    return half if unfit is None else replace(half, fit=False, note=f"{unfit.called}: {unfit.note}")


def pair_candidate(job: Job, one: Pack, other: Pack, pieces: tuple[Adapter, ...]) -> Candidates:
    """The two in a model as Size judges such a pair."""
    both = pairs(from_packs([_half(one, other)], job.label_trust)).take([0])
    return suited(job, both, pieces)


def unlike(one: Pack, other: Pack) -> list[GoReason]:
    """What speaks against running these two together, whatever they read."""
    low, high = sorted((one.held_ah, other.held_ah))
    apart = 1 - low / high
    if apart <= AS_LARGE:
        return []
    words = (
        f"{one.called} and {other.called} hold {100 * apart:.0f} % apart: the smaller is driven empty first."
    )
    return [GoReason("unlike", "no_go" if apart > MARKED else "careful", words)]


def typed_pair(
    chemistry_id: str, series: int, text: str, rules: HouseRules
) -> tuple[PackReading, PackReading]:
    """What two packs of so many cells each read: "4.19 4.18 + 4.20 4.19", "8.4 + 8.3", or all in a row.

    Raises
    ------
    DomainError
        As `typed_reading`.
    """
    parts = [p for p in re.split(r"\s*[+\n]\s*", text.strip()) if p]
    if len(parts) == 2:
        one, other = (typed_reading(chemistry_id, series, p, rules) for p in parts)
        return one, other
    both = typed_reading(chemistry_id, 2 * series, text, rules)
    halves = both.cell_v[:series], both.cell_v[series:]
    one, other = (pack_reading(chemistry_id, cells, rules) for cells in halves)
    return replace(one, whole=both.whole and series > 1), replace(other, whole=both.whole and series > 1)


def read_together(readings: Sequence[PackReading], chemistry_id: str, rules: HouseRules) -> PackReading:
    """Both readings as one; what only the whole of either told is not known of both."""
    cells = tuple(v for r in readings for v in r.cell_v)
    return replace(pack_reading(chemistry_id, cells, rules), whole=any(r.whole for r in readings))


def known_together(one: Pack, other: Pack, known: Sequence[RunContext]) -> RunContext:
    """What is known of both beside their cells: whatever bars either bars both."""
    barred = [f"{p.called}: {k.barred}" for p, k in zip((one, other), known, strict=True) if k.barred]
    return RunContext(
        barred=barred[0] if barred else "",
        stranger=any(k.stranger for k in known),
        noted=next((k.noted for k in known if k.noted), ""),
        noted_h=max(k.noted_h for k in known),
        more=tuple(unlike(one, other)),
    )
