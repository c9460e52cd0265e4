"""What a model's runs teach of its draw."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import soc_at_rest
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules, for_chemistry


@dataclass(frozen=True, slots=True)
class RunFindings:
    """A model's average draw from its own runs, with its scatter as a share, and from how many; of those
    ``by_volts`` by their landing volts."""

    average_a: float
    spread: float
    count: int
    by_volts: int = 0


FEWEST_RUNS = 3


def mah_by_landing(pack: Pack, landing_rest_v: float, *, rules: HouseRules) -> float | None:
    """What a run took, by the volts of a cell at rest after it: capacity × (full by the rules − charge
    at rest). [mAh]

    The pack is taken to have begun full, and to hold its label. None where volts say little: a flat curve,
    or above what full is.
    """
    if not chemistry(pack.chemistry).volts_tell:
        return None
    used = for_chemistry(rules, pack.chemistry).start_soc - soc_at_rest(pack.chemistry, landing_rest_v)
    return 1000 * used * pack.capacity_ah if used > 0 else None


def learned_draw(
    runs: Sequence[tuple[float, float]], landed: Sequence[tuple[float, float]] = ()
) -> RunFindings | None:
    """From runs of (minutes, mAh put back), and ``landed`` ones whose mAh are by their volts: the total
    charge over the total time, so that long runs count for more. [A]

    None with fewer than three runs: too early. The spread is the deviation of the single runs, 5 % at least.
    """
    whole = [(m, mah) for m, mah in (*runs, *landed) if m > 0 and mah > 0]
    if len(whole) < FEWEST_RUNS:
        return None
    each = np.array([mah / 1000 / (m / 60) for m, mah in whole])
    average = sum(mah for _, mah in whole) / 1000 / (sum(m for m, _ in whole) / 60)
    return RunFindings(
        float(average),
        max(0.05, float(each.std(ddof=1) / average)),
        len(whole),
        sum(m > 0 and mah > 0 for m, mah in landed),
    )
