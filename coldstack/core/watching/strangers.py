"""A charge that was begun elsewhere, and is to be watched here: what it may come to, by its pack alone."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRY_IDS, chemistry
from coldstack.core.charging.amps import pack_limit
from coldstack.core.charging.charge_time import BALANCE_SHARE, ChargeColumns, ChargeTime, charge_time
from coldstack.core.charging.charger import USUAL_BALANCE_A
from coldstack.core.charging.margins import CUTOFF_FACTOR, TIMER_FACTOR
from coldstack.core.charging.warming import pack_area_m2
from coldstack.core.errors import DomainError
from coldstack.core.packs.pack import Pack
from coldstack.core.packs.resistance import cell_resistance
from coldstack.core.rules.house_rules import HouseRules, for_chemistry
from coldstack.core.watching.expected import Expected, check_expected
from coldstack.core.watching.samples import Sample

STRANGER = "stranger"
"""The alarm of a charge that nobody here began."""
AMMETER_SHARE = 0.05
"""An ammeter may read so much too high."""
LEAST_C = 0.1
"""No slower charge is reckoned with: it would take ten hours and more. House figure."""


def expected_of_stranger(
    pack: Pack, samples: Sequence[Sample], rules: HouseRules, *, look_every_s: float
) -> Expected:
    """What a charge of this pack may come to. Nobody here knows what the charger was set to: no cell passes
    the rules' end, no more flows than the pack may get, no more goes in than an empty one takes, no longer
    than that lasts at these amps.

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
    cell, full_v = chemistry(pack.chemistry), for_chemistry(rules, pack.chemistry).full_v
    time = _from_empty(pack, max(amps, LEAST_C * pack.capacity_ah), full_v)
    return check_expected(
        Expected(
            pack.chemistry,
            pack.series,
            pack.capacity_ah,
            limit.current_a,
            cell.full_v if cell.charge_method == "peak" else full_v,
            60 * TIMER_FACTOR * float(time.high[0]),
            1000 * CUTOFF_FACTOR * float(time.put_in_high_ah[0]),
            look_every_s,
            cell_mohm=cell_resistance(pack).value,
            mass_g=pack.mass_g,
            area_m2=pack_area_m2(pack),
            balance_a=USUAL_BALANCE_A,
        )
    )


def minutes_at_most(expected: Expected) -> float:
    """How long such a charge lasts if its pack was empty, without the timer's margin. [min]"""
    return expected.timer_s / TIMER_FACTOR / 60


def _from_empty(pack: Pack, current_a: float, full_cell_v: float) -> ChargeTime:
    """What it takes where it was empty as it was begun, whenever that was."""
    one = np.ones(1)
    mohm = cell_resistance(pack).value
    return charge_time(
        ChargeColumns(
            np.array([CHEMISTRY_IDS.index(chemistry(pack.chemistry).id)]),
            pack.capacity_ah * one,
            mohm * one,
            current_a * one,
            full_cell_v * one,
            0 * one,
            BALANCE_SHARE * pack.capacity_ah * one,
            USUAL_BALANCE_A * one,
        )
    )
