"""Charge time: constant current, then constant volts.

While a pack charges for an hour its slow part has settled, so the current at a state of charge s is the
lesser of what is set and what the cell lets in at full volts: ``I(s) = min(I_set, (V_full − OCV(s)) ÷ R)``
with ``R = R0 + D ÷ Ah``, quick resistance and what its ions' spreading adds; the time is ``∫ Ah ds ÷ I(s)``
up to the charge at which the taper has come down to C/20. One quadrature for any number of packs.

Balancing runs beside it: only what is left of it afterwards takes time of its own.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from coldstack.core.cells.chemistry import CHEMISTRIES, CHEMISTRY_IDS
from coldstack.core.cells.open_circuit import GRID_CELLS, ocv_curve
from coldstack.core.cells.resistance import SPREADING
from coldstack.core.errors import DomainError

Floats = NDArray[np.float64]

TAPER_END_C = 1 / 20
"""Chargers call a pack full when the current has come down to C/20."""
AROUND_MIN = (0.0, 0.5, 2.0)
"""Until a charger has seen what hangs on it, and has made sure that the end is the end: low, middle, high.
House figure."""
BALANCE_SHARE = 0.01
"""Imbalance to expect of a sound pack that was not read: 1 % of its capacity. House figure."""
CELLS_APART = 0.04
"""Cells of a sound pack may hold so much more or less than one another, as a share. House figure."""
NIMH_INTAKE = (1.05, 1.1, 1.2)
"""Ah put into a NiMH cell over Ah stored, up to its peak: low, middle, high. Typical."""
BALANCED_BESIDE, BLIND_BESIDE = 0.75, 0.15
"""Share of the charge in which a balancer works at its full current; where volts tell it little before the
end. Against charges cell by cell (docs/model.md). House figure. House figure."""
LOW, MIDDLE, HIGH = range(3)
RESISTANCE_FACTORS, CAPACITY_FACTORS, IMBALANCE_FACTORS, BLIND_FACTORS = (
    (0.75, 1.0, 1.25),
    (0.97, 1.0, 1.03),
    (0.5, 1.0, 1.5),
    (0.5, 1.0, 5.0),
)
"""What is not known of a pack: low, middle, high; the last of an imbalance that volts do not tell."""
STEPS = 1024
"""Steps of charge in the quadrature; the one in which the taper ends counts in part."""


@dataclass(frozen=True, slots=True)
class ChargeColumns:
    """N packs on chargers; every column has shape (N,).

    ``cell_mohm`` is the quick resistance of one cell position at 25 °C and 60 % charge;
    ``full_cell_v`` where the charge ends by house rules; ``balance_ah`` the worst cell's imbalance,
    ``balance_a`` the charger's balance current, 0 where nothing is to be balanced. ``lowest_soc`` is the
    charge that it may have at least, where its volts tell it badly; None where that is known.
    ``resistance_spread`` is ± of the resistance as a share; None for 25 %.
    """

    chemistry_index: NDArray[np.int64]
    capacity_ah: Floats
    cell_mohm: Floats
    current_a: Floats
    full_cell_v: Floats
    start_soc: Floats
    balance_ah: Floats
    balance_a: Floats
    lowest_soc: Floats | None = None
    resistance_spread: Floats | None = None

    def resistance_factor(self, case: int) -> Floats | float:
        """By how much the resistance may be less, is, may be more."""
        if self.resistance_spread is None:
            return RESISTANCE_FACTORS[case]
        return (1 + self.resistance_spread) ** (case - MIDDLE)


@dataclass(frozen=True, slots=True)
class ChargeTime:
    """What a charge takes, shape (N,). [min], [Ah]

    ``minutes`` is ``flowing_min``, of it ``taper_min`` at falling current; ``balance_min``, what is left to
    balance after it; and what the charger takes around it. ``low`` and ``high`` are its range,
    ``put_in_high_ah`` the high end of what goes in.
    """

    minutes: Floats
    low: Floats
    high: Floats
    flowing_min: Floats
    taper_min: Floats
    balance_min: Floats
    put_in_ah: Floats
    put_in_high_ah: Floats
    end_soc: Floats


def charge_time(c: ChargeColumns) -> ChargeTime:
    """Minutes to full for N packs, with their range.

    The range is of the resistance's own ±, ±3 % capacity, half to one and a half times the imbalance, how
    slowly published cells of the chemistry fill; its high end, of what the meter may have read too high.

    Raises
    ------
    DomainError
        If a current, capacity or resistance is not above zero.
    """
    _check(c)
    flowing, taper, put_in, end_soc = _flow(c, MIDDLE)
    low, (high, _, put_in_high, _) = _flow(c, LOW)[0], _flow(c, HIGH)
    balance = _left_to_balance(c, flowing, MIDDLE)
    return ChargeTime(
        minutes=flowing + balance + AROUND_MIN[MIDDLE],
        low=low + _left_to_balance(c, low, LOW) + AROUND_MIN[LOW],
        high=high + _left_to_balance(c, high, HIGH) + AROUND_MIN[HIGH],
        flowing_min=flowing,
        taper_min=taper,
        balance_min=balance,
        put_in_ah=put_in,
        put_in_high_ah=put_in_high,
        end_soc=end_soc,
    )


def charge_minutes(c: ChargeColumns) -> Floats:
    """The minutes alone, as `charge_time` gives them, for a third of its work."""
    _check(c)
    flowing, _, _, _ = _flow(c, MIDDLE)
    return np.asarray(flowing + _left_to_balance(c, flowing, MIDDLE) + AROUND_MIN[MIDDLE])


def _check(c: ChargeColumns) -> None:
    for name in ("capacity_ah", "cell_mohm", "current_a"):
        if not np.all(getattr(c, name) > 0):
            raise DomainError(name, f"{name} must be above zero.")


def _left_to_balance(c: ChargeColumns, flowing_min: Floats, case: int) -> Floats:
    """What the balancer has still to do when nothing flows any more. [min]"""
    with np.errstate(divide="ignore", invalid="ignore"):
        tells = _volts_tell()[c.chemistry_index]
        uneven_ah = np.where(tells, IMBALANCE_FACTORS[case], BLIND_FACTORS[case]) * c.balance_ah
        if case == HIGH and c.lowest_soc is not None:
            # what the meter hid of how far the cells are apart, and what some hold less
            hidden = c.start_soc - c.lowest_soc + CELLS_APART * (1 - c.lowest_soc)
            uneven_ah = uneven_ah + np.where(tells, hidden * c.capacity_ah, 0.0)
        whole = np.where(c.balance_a > 0, 60 * uneven_ah / c.balance_a, 0.0)
    return np.asarray(np.maximum(whole - _balanced_beside()[c.chemistry_index] * flowing_min, 0.0))


def _flow(c: ChargeColumns, case: int) -> tuple[Floats, Floats, Floats, Floats]:
    """Minutes in which current flows, of them in the taper, Ah put in and charge at the end."""
    ah, set_a = c.capacity_ah * CAPACITY_FACTORS[case], c.current_a[:, None]
    spreading = _spreading()[case, c.chemistry_index] / c.capacity_ah
    r_ohm = ((c.cell_mohm * c.resistance_factor(case) + spreading) / 1000)[:, None]
    let_in = (c.full_cell_v[:, None] - _curves()[c.chemistry_index]) / r_ohm
    # a NiMH charge has no constant-volts part: it ends at its peak
    nimh = _ends_at_peak()[c.chemistry_index]
    let_in[nimh] = np.inf
    begun = c.lowest_soc if case == HIGH and c.lowest_soc is not None else c.start_soc
    start = np.minimum(begun, 1.0)[:, None]
    room = np.clip(_edges()[1:] - start, 0.0, 1.0 / STEPS)
    share = room * _flowing(let_in, np.minimum(TAPER_END_C * ah, c.current_a)[:, None], room)
    with np.errstate(invalid="ignore"):
        middle = (let_in[:, 1:] + let_in[:, :-1]) / 2
    current = np.clip(np.where(nimh[:, None], np.inf, middle), 1e-9, set_a)
    hours = ah[:, None] * share / current
    intake = np.where(nimh, NIMH_INTAKE[case], 1.0)
    return (
        60 * hours.sum(axis=1) * intake,
        60 * np.where(current < set_a, hours, 0.0).sum(axis=1),
        ah * share.sum(axis=1) * intake,
        start[:, 0] + share.sum(axis=1),
    )


def _flowing(let_in: Floats, end_a: Floats, room: Floats) -> Floats:
    """Share of each step that passes before the taper is down: 1, 0, or part of the step in which it crosses
    the end."""
    left, right = let_in[:, :-1], let_in[:, 1:]
    with np.errstate(divide="ignore", invalid="ignore"):
        part = np.where(right >= end_a, 1.0, np.clip((left - end_a) / (left - right), 0.0, 1.0))
    # once the taper is down the charge is over, even where a flat curve would let more in later
    over = np.cumsum((part < 1.0) & (room > 0), axis=1)
    return np.where((over == 0) | ((over == 1) & (part > 0) & (part < 1)), part, 0.0)


@cache
def _curves() -> Floats:
    """Resting volts at the edges of the steps, a row a chemistry."""
    return np.array([ocv_curve(x)[:: GRID_CELLS // STEPS] for x in CHEMISTRY_IDS])


@cache
def _ends_at_peak() -> NDArray[np.bool_]:
    return np.array([x.charge_method == "peak" for x in CHEMISTRIES.values()])


@cache
def _volts_tell() -> NDArray[np.bool_]:
    return np.array([x.volts_tell for x in CHEMISTRIES.values()])


@cache
def _balanced_beside() -> Floats:
    return np.where(_volts_tell(), BALANCED_BESIDE, BLIND_BESIDE)


@cache
def _spreading() -> Floats:
    """Of each chemistry, shape (3, chemistries). [mΩ·Ah]"""
    of = [SPREADING[x] for x in CHEMISTRY_IDS]
    return np.array([[x.low for x in of], [x.middle for x in of], [x.high for x in of]])


@cache
def _edges() -> Floats:
    return np.linspace(0.0, 1.0, STEPS + 1)
