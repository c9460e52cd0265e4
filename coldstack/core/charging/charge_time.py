"""Charge time: constant current, then constant volts, on the same circuit as the discharge.

While a pack charges for an hour its slow part (τ = 30 s) has settled, so the current at a state of charge s is the lesser of
what is set and what the circuit lets in at full volts: ``I(s) = min(I_set, (V_full − OCV(s)) ÷ (R0(s) + R1(s)))``, and the time is
``∫ Ah ds ÷ I(s)`` up to the charge at which the taper has come down to C/20. One quadrature for any number of packs.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from coldstack.core.cells.chemistry import CHEMISTRIES, CHEMISTRY_IDS
from coldstack.core.cells.open_circuit import GRID_CELLS, ocv_curve
from coldstack.core.cells.resistance import SLOW_RESISTANCE_FACTOR, soc_factor_curve
from coldstack.core.errors import DomainError

Floats = NDArray[np.float64]

TAPER_END_C = 1 / 20
"""Chargers call a pack full when the current has come down to C/20."""
AFTER_CIRCUIT = (0.04, 0.065, 0.09)
"""The circuit ends 4 to 9 % before a physics-based cell does: low, middle and high addition."""
LEAST_AFTER_MIN = (2.0, 5.0, 8.0)
"""The same in minutes at least: chargers take a while to start, to check and to stop."""
BALANCE_SHARE = 0.01
"""Imbalance to expect of a sound pack that was not read: 1 % of its capacity. House figure."""
NIMH_INTAKE = 1.1
"""Ah put into a NiMH cell over Ah stored, up to its peak. Typical."""
RESISTANCE_RANGE, CAPACITY_RANGE = 0.25, 0.03
STEPS = 1024
"""Steps of charge in the quadrature; the one in which the taper ends counts in part."""


@dataclass(frozen=True, slots=True)
class ChargeColumns:
    """N packs on chargers; every column has shape (N,).

    ``resistance_mohm`` is the quick resistance of one cell position at 25 °C and 60 % charge; ``full_cell_v`` where the charge
    ends by house rules; ``balance_ah`` the worst cell's imbalance, ``balance_a`` the charger's balance current, 0 where nothing
    is to be balanced.
    """

    chemistry_index: NDArray[np.int64]
    capacity_ah: Floats
    resistance_mohm: Floats
    current_a: Floats
    full_cell_v: Floats
    start_soc: Floats
    balance_ah: Floats
    balance_a: Floats


@dataclass(frozen=True, slots=True)
class ChargeTime:
    """What a charge takes, shape (N,). [min], [Ah]

    ``circuit_min`` is the bare circuit's time, of it ``taper_min`` at falling current; ``minutes`` adds what real packs take more,
    and balancing. ``low`` and ``high`` are its range.
    """

    minutes: Floats
    low: Floats
    high: Floats
    circuit_min: Floats
    taper_min: Floats
    balance_min: Floats
    put_in_ah: Floats
    end_soc: Floats


def charge_time(c: ChargeColumns) -> ChargeTime:
    """Minutes to full for N packs, with a range from ±25 % resistance, ±3 % capacity and half the balancing.

    Raises
    ------
    DomainError
        If a current, capacity or resistance is not above zero.
    """
    _check(c)
    circuit, taper, put_in, end_soc = _circuit(c, 1.0, 1.0)
    low, _, _, _ = _circuit(c, 1 - RESISTANCE_RANGE, 1 - CAPACITY_RANGE)
    high, _, _, _ = _circuit(c, 1 + RESISTANCE_RANGE, 1 + CAPACITY_RANGE)
    balance = _balance_min(c)
    return ChargeTime(
        minutes=circuit + _afterwards(circuit, 1) + balance,
        low=low + _afterwards(low, 0) + balance / 2,
        high=high + _afterwards(high, 2) + 1.5 * balance,
        circuit_min=circuit,
        taper_min=taper,
        balance_min=balance,
        put_in_ah=put_in,
        end_soc=end_soc,
    )


def charge_minutes(c: ChargeColumns) -> Floats:
    """The minutes alone, as `charge_time` gives them, for a third of its work."""
    _check(c)
    circuit, _, _, _ = _circuit(c, 1.0, 1.0)
    return np.asarray(circuit + _afterwards(circuit, 1) + _balance_min(c))


def _check(c: ChargeColumns) -> None:
    for name in ("capacity_ah", "resistance_mohm", "current_a"):
        if not np.all(getattr(c, name) > 0):
            raise DomainError(name, f"{name} must be above zero.")


def _afterwards(circuit_min: Floats, which: int) -> Floats:
    return np.maximum(AFTER_CIRCUIT[which] * circuit_min, LEAST_AFTER_MIN[which])


def _balance_min(c: ChargeColumns) -> Floats:
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(c.balance_a > 0, 60 * c.balance_ah / c.balance_a, 0.0)


def _circuit(
    c: ChargeColumns, resistance_factor: float, capacity_factor: float
) -> tuple[Floats, Floats, Floats, Floats]:
    """Minutes, of them in the taper, Ah put in and charge at the end, of the bare circuit."""
    ah, set_a = c.capacity_ah * capacity_factor, c.current_a[:, None]
    r_ohm = (c.resistance_mohm * resistance_factor / 1000)[:, None] * _settled_factor()
    let_in = (c.full_cell_v[:, None] - _curves()[c.chemistry_index]) / r_ohm
    # a NiMH charge has no constant-volts part: it ends at its peak
    nimh = _ends_at_peak()[c.chemistry_index]
    let_in[nimh] = np.inf
    start = np.minimum(c.start_soc, 1.0)[:, None]
    room = np.clip(_edges()[1:] - start, 0.0, 1.0 / STEPS)
    share = room * _flowing(let_in, np.minimum(TAPER_END_C * ah, c.current_a)[:, None], room)
    with np.errstate(invalid="ignore"):
        middle = (let_in[:, 1:] + let_in[:, :-1]) / 2
    current = np.clip(np.where(nimh[:, None], np.inf, middle), 1e-9, set_a)
    hours = ah[:, None] * share / current
    intake = np.where(nimh, NIMH_INTAKE, 1.0)
    return (
        60 * hours.sum(axis=1) * intake,
        60 * np.where(current < set_a, hours, 0.0).sum(axis=1),
        c.capacity_ah * share.sum(axis=1) * intake,
        start[:, 0] + share.sum(axis=1),
    )


def _flowing(let_in: Floats, end_a: Floats, room: Floats) -> Floats:
    """Share of each step that passes before the taper is down: 1, 0, or part of the step in which it crosses the end."""
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
def _settled_factor() -> Floats:
    return (1 + SLOW_RESISTANCE_FACTOR) * soc_factor_curve()[:: GRID_CELLS // STEPS]


@cache
def _edges() -> Floats:
    return np.linspace(0.0, 1.0, STEPS + 1)
