"""The links of the chain from cells to motor in words: names, moments, what limits and what relieves each."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from coldstack.core.chain.joints import ROOMY_LOADING
from coldstack.core.chain.warmth import HOT_RISE_K, WARM_RISE_K
from coldstack.core.checks import Check
from coldstack.core.discharge.batch import Discharge, Floats
from coldstack.core.trial.checks.spec import Miss, PlatePart, Spec
from coldstack.core.units import DEG, WARMER, percent, plain_number
from coldstack.core.working import Step

HOTTEST_CELL_C = 60.0
WARM_CELL_C = 50.0


@dataclass(frozen=True, slots=True)
class LinkSpec:
    """One link of the chain: its name, what relieves it (``cure``, of the amps it should be good for), what
    would have to give, and the field where its limit stands."""

    key: str
    cure: str
    gives: str
    where: str = ""

    @property
    def name(self) -> str:
        """As its plate is called."""
        return self.key.capitalize()


LINKS = {
    spec.key: spec
    for spec in (
        LinkSpec(
            "cells",
            "Cells good for {need} A would bring it to {then}.",
            "the current from the cells",
            "pack.label_c",
        ),
        LinkSpec(
            "leads",
            "Thicker leads, good for {need} A, would bring it to {then}.",
            "the leads",
            "electronics.lead_awg",
        ),
        LinkSpec(
            "plug", "A plug good for {need} A would bring it to {then}.", "the plug", "electronics.plug"
        ),
        LinkSpec("adapter", "One good for {need} A would bring it to {then}.", "the adapter", "pieces"),
        LinkSpec(
            "controller",
            "One of {need} A would bring it to {then}.",
            "the controller’s amps",
            "electronics.controller_continuous_a",
        ),
        LinkSpec(
            "motor",
            "A motor good for {need} A, or less propeller, would bring it to {then}.",
            "the motor’s amps",
            "electronics.motor_continuous_a",
        ),
    )
}
"""From the cells to the motor."""


@dataclass(frozen=True, slots=True)
class Moment:
    """When a link's current counts: all the time by its heat, or at the peak.

    ``when``: as in "leads 112 % continuous"; ``words``: as in "the weakest link all the time".
    """

    key: str
    when: str
    words: str
    amps: Callable[[Discharge], Floats]
    step: Callable[[float], Step]


CONTINUOUS = Moment(
    "continuous",
    "continuous",
    "all the time",
    lambda d: d.rms_current_a,
    lambda amps: Step(
        "Current that heats",
        "√(mean of I²) over the run",
        f"{plain_number(amps)} A",
        "RMS, because heat goes with the square of the current",
    ),
)
BURST = Moment(
    "burst",
    "at the peak",
    "at the peak",
    lambda d: d.peak_current_a,
    lambda amps: Step(
        "Largest current", "peak phase at the pack’s own volts under load", f"{plain_number(amps)} A"
    ),
)


def _cooler(check: Check) -> str:
    value = plain_number(check.value or 0.0)
    return f": {value}{DEG} of {HOTTEST_CELL_C:g}{DEG}. More capacity, more C or moving air keeps it cooler."


def _heat_steps(d: Discharge, row: int) -> tuple[Step, ...]:
    wh = f"{plain_number(float(d.heat_wh[row]))} Wh over the run"
    return (Step("Heat", "I²·R0 + v²/R1, less what the bay sheds", wh),)


def _warmer(check: Check) -> str:
    return f": {percent(check.loading or 0.0)}, {plain_number(check.value or 0.0, 2)}{WARMER} over the air."


def _warmth_steps(d: Discharge, row: int) -> tuple[Step, ...]:
    amps, peak = float(d.rms_current_a[row]), float(d.peak_current_a[row])
    numbers = f"{plain_number(amps)} A RMS, {plain_number(peak)} A at the peak"
    return (Step("Warmth", "C·dT/dt = I²·R − T ÷ R_th over the duty, at its highest", numbers),)


def _warmth(key: str) -> Spec:
    """A plug or a lead by its warmth: what judges it, beside its ratings."""
    name = LINKS[key].name

    def lacks(m: Miss) -> str:
        return f"{key} {plain_number(m.value, 2)}{WARMER} over the air, at most {HOT_RISE_K:g}{WARMER}"

    return Spec(
        f"{key}.warmth",
        f"{name}, warmth over the air",
        "K",
        lacks,
        LINKS[key].gives,
        short=f"{key} too hot",
        caution_from=WARM_RISE_K / HOT_RISE_K,
        care_from=WARM_RISE_K / HOT_RISE_K,
        where=LINKS[key].where,
        plate=PlatePart(key, "by warmth", "by its warmth", ROOMY_LOADING, _warmer, _warmth_steps),
    )


WARMTHS = {key: _warmth(key) for key in ("leads", "plug", "adapter")}
"""Links that are judged by how warm they get."""
HOT = Spec(
    "cells.temperature",
    "Cells when landing",
    "°C",
    lambda m: f"cells at {plain_number(m.value, 3)}{DEG} when landing",
    LINKS["cells"].gives,
    caution_from=WARM_CELL_C / HOTTEST_CELL_C,
    care_from=WARM_CELL_C / HOTTEST_CELL_C,
    where="pack.capacity_ah",
    plate=PlatePart(
        "cells", "by temperature", "when landing", WARM_CELL_C / HOTTEST_CELL_C, _cooler, _heat_steps
    ),
)


def of_several(name: str, count: int) -> str:
    """The name of one link of several alike."""
    return f"{name}, each of {count}" if count > 1 else name
