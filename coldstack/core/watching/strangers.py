"""A charge that was begun elsewhere, and is to be watched here: what it may come to, by its pack alone."""

from __future__ import annotations

from collections.abc import Sequence

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.charging.amps import pack_limit
from coldstack.core.charging.margins import CUTOFF_FACTOR, TIMER_FACTOR
from coldstack.core.errors import DomainError
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules, for_chemistry
from coldstack.core.watching.expected import Expected, check_expected
from coldstack.core.watching.samples import Sample

STRANGER = "stranger"
"""The alarm of a charge that nobody here began."""
AMMETER_SHARE = 0.05
"""An ammeter may read so much too high."""
LEAST_C = 0.1
"""No slower charge is reckoned with: it would take ten hours and more. House figure."""
TAPER_H = 0.5
"""Its end takes so long on top of the hours at full current. House figure."""


def expected_of_stranger(
    pack: Pack, samples: Sequence[Sample], rules: HouseRules, *, look_every_s: float
) -> Expected:
    """What a charge of this pack may come to. Nobody here knows what the charger was set to: no cell passes
    the rules' end, no more goes in than an empty pack takes, no longer than that lasts at these amps.

    Raises
    ------
    DomainError
        Where nothing was measured yet, or more flows than rules and label allow: it is stopped, not watched.
    """
    if not samples:
        raise DomainError("pack", "The charger has measured nothing yet. Try again in a moment.")
    amps, limit = max(s.current_a for s in samples), pack_limit(pack, rules)
    if amps > limit.current_a * (1 + AMMETER_SHARE):
        raise DomainError(
            "pack", f"{amps:.1f} A flow; {limit.name} allows {limit.current_a:.1f} A for this pack. Stop it."
        )
    amps = max(amps, LEAST_C * pack.capacity_ah)
    peak = chemistry(pack.chemistry).charge_method == "peak"
    return check_expected(
        Expected(
            pack.chemistry,
            pack.series,
            pack.capacity_ah,
            amps,
            chemistry(pack.chemistry).full_v if peak else for_chemistry(rules, pack.chemistry).full_v,
            3600 * TIMER_FACTOR * (pack.capacity_ah / amps + TAPER_H),
            1000 * CUTOFF_FACTOR * pack.capacity_ah,
            look_every_s,
        )
    )


def minutes_at_most(expected: Expected) -> float:
    """How long such a charge lasts if its pack was empty, without the timer's margin. [min]"""
    return expected.timer_s / TIMER_FACTOR / 60
