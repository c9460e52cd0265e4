"""How warm a plug or a lead gets over a duty: a lump that takes the heat of its contact and sheds it.

A rating is a steady one, or for ten seconds; a duty is bursts of one or two. ``C·dT/dt = I²·R − T ÷ R_th``:
by its rating the steady rise is ``rise_at_rating·(I ÷ I_rated)²``, which it nears with its time constant
``R_th·C``. The rise is over the air, the contact's growth with age is left out. House figures, held against
the ratings: at its printed amps, continuous or for ten seconds, each family warms by 20 to 60 K.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

Floats = NDArray[np.float64]

PLUG_RISE_AT_RATING_K = 28.0
"""A mated pair of plugs over the air at its continuous rating. House figure."""
WARM_RISE_K, HOT_RISE_K = 40.0, 60.0
"""Over the air: from here a plug or a lead is to be looked at, and from here it is over its limit: solder and
nylon last, a finger does not. House figures."""
BURST_S = 10.0
"""What sellers mean by a burst. [s]"""
STREAM_SHARE = 0.5
"""In the air stream of a propeller it warms half as much. House figure."""


def peak_rise_k(
    amps: Floats,
    seconds: Sequence[float],
    *,
    rating_a: ArrayLike,
    rise_at_rating_k: float,
    time_constant_s: ArrayLike,
    run_s: ArrayLike,
    share: float = 1.0,
) -> Floats:
    """Highest rise over the air within a run of N packs that repeats a cycle of P phases. [K]

    The cycle as it repeats for ever, less what is not reached in a short run: exact for one phase, and for
    several never less than the truth at the end of a phase.

    Parameters
    ----------
    amps : array of shape (P, N)
        Current of each phase.
    seconds : P figures
        Length of each phase.
    rating_a, time_constant_s, run_s : array_like of shape (N,)
        Continuous rating, time constant, length of the run.
    share : float
        Of the rise in still air.
    """
    rating, tau = np.asarray(rating_a, float), np.asarray(time_constant_s, float)
    steady = share * rise_at_rating_k * (amps / rating) ** 2
    kept = [np.exp(-s / tau) for s in seconds]
    once = np.zeros(amps.shape[1])
    for towards, fade in zip(steady, kept, strict=True):
        once = towards + (once - towards) * fade
    # what a cycle begins with once it has repeated for ever
    start = once / (1 - np.exp(-sum(seconds) / tau))
    rise = highest = start
    for towards, fade in zip(steady, kept, strict=True):
        rise = towards + (rise - towards) * fade
        highest = np.maximum(highest, rise)
    return np.asarray(highest - start * np.exp(-np.asarray(run_s, float) / tau))


@dataclass(frozen=True, slots=True)
class Warming:
    """What one run asks of plugs and leads: amps and seconds of each phase of its cycle, how long it lasts,
    and the share of the rise in still air."""

    amps: tuple[float, ...]
    seconds: tuple[float, ...]
    run_s: float
    share: float = 1.0

    def rise_k(self, rating_a: float, rise_at_rating_k: float, time_constant_s: float) -> float:
        """Highest rise over the air. [K]"""
        amps = np.array(self.amps)[:, None]
        found = peak_rise_k(
            amps,
            self.seconds,
            rating_a=rating_a,
            rise_at_rating_k=rise_at_rating_k,
            time_constant_s=time_constant_s,
            run_s=self.run_s,
            share=self.share,
        )
        return float(found[0])

    def average_rise_k(self, rating_a: float, rise_at_rating_k: float) -> float:
        """What the average alone warms it to, however it peaks. [K]"""
        average = np.average(self.amps, weights=self.seconds)
        return float(self.share * rise_at_rating_k * (average / rating_a) ** 2)


def burst_factor(time_constant_s: float) -> float:
    """How many times its continuous amps a wire takes for ten seconds from cold, to no higher a rise:
    ``1 ÷ √(1 − e^(−t/τ))``."""
    return float(1.0 / np.sqrt(1.0 - np.exp(-BURST_S / time_constant_s)))
