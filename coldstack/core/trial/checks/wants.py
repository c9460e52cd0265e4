"""What the owner wants and what the electronics and the drive ask for, each beside its figures."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRIES, CHEMISTRY_IDS, chemistry_column
from coldstack.core.discharge.batch import Discharge, Ending, Floats
from coldstack.core.draw.scaling import mass_factor
from coldstack.core.readings.tolerance import TOUCHED_V, snapped
from coldstack.core.trial.candidates import Candidates
from coldstack.core.trial.checks.flight import just_under
from coldstack.core.trial.checks.spec import CheckColumn, Miss, Spec, every
from coldstack.core.trial.job import Job
from coldstack.core.units import GRAMS, lasting, percent
from coldstack.core.units import plain_number as n

SHORT_S = 90
"""Below so many seconds a lack of time is told in seconds. House figure."""


def _too_short(m: Miss) -> str:
    short_s = (m.limit - m.value) * 60
    by = f"{max(1, round(short_s))} s" if short_s < SHORT_S else lasting(short_s / 60, 2)
    return f"short by {by}"


def _too_tame(m: Miss) -> str:
    return f"{just_under(m.value, m.limit)} % of today’s punch, {n(m.limit)} % wanted"


def _too_many_volts(m: Miss) -> str:
    over = f"{n(m.value - m.limit, 2)} V over the {m.job.seen_by}’s {n(m.limit)} V when full"
    cell = CHEMISTRIES[CHEMISTRY_IDS[int(m.candidates.chemistry_index[m.row])]]
    more_v = cell.full_v - CHEMISTRIES["lipo"].full_v
    if more_v <= 0 or m.job.electronics.rated_cells != int(m.candidates.series[m.row]):
        return over
    return f"{over} ({cell.name}: {n(more_v, 2)} V a cell more than LiPo)"


MINUTES = Spec(
    "want.minutes",
    "Minutes",
    "min",
    _too_short,
    "the minutes",
    at_most=False,
    wish=True,
    where="wants.minutes",
)
MASS = Spec(
    "want.mass",
    "Mass of the pack",
    "g",
    lambda m: f"{n(m.value - m.limit, 2)}{GRAMS} too heavy",
    "the weight",
    wish=True,
    where="wants.mass_g",
)
VOLTS = Spec(
    "want.volts",
    "Mean volts under load",
    "V",
    lambda m: f"{n(m.limit - m.value, 2)} V too low under load",
    "the volts wanted",
    at_most=False,
    wish=True,
    where="wants.volts",
)
RPM = Spec(
    "want.rpm",
    "Motor speed without load loss",
    "rpm",
    lambda m: f"{n(m.limit - m.value, 2)} rpm too slow",
    "the motor speed wanted",
    at_most=False,
    wish=True,
    where="wants.rpm",
)
LIVELY = Spec(
    "want.lively",
    "Full-stick watts, of today’s",
    "%",
    _too_tame,
    "being as lively as now",
    at_most=False,
    wish=True,
    where="wants.lively",
)
FULL = Spec(
    "window.full",
    "Volts fresh off the charger",
    "V",
    _too_many_volts,
    "the controller’s volts",
    short="too many volts",
    where="electronics.max_v",
    grave=True,
)
LANDING = Spec(
    "window.landing",
    "Lowest volts under load",
    "V",
    lambda m: f"{n(m.limit - m.value, 2)} V under the controller’s {n(m.limit)} V at the lowest",
    "the controller’s volts",
    at_most=False,
    short="volts sag too low",
    where="electronics.min_v",
)
DEVICE = Spec(
    "window.device",
    "Volts at the device under a burst, at the end",
    "V",
    lambda m: f"down to {n(m.value, 2)} V at the device under a burst, {n(m.limit, 2)} V needed",
    "the volts at the device",
    at_most=False,
    short="too few volts",
    where="equipment.least_v",
    grave=True,
)
DELIVERS = Spec(
    "run.delivers",
    "Charge given before the controller stops",
    "Ah",
    lambda m: f"stops with {percent(1 - m.value / m.limit)} of the run’s charge still in it",
    "the charge given before the controller stops",
    at_most=False,
    short="stops early",
    where="pack.cell_mohm",
)
DRIVE = Spec(
    "drive.watts",
    "Full-stick watts on this pack",
    "W",
    lambda m: (
        f"too few volts for this propeller or gearing: {n(m.value, 2)} W at full stick, "
        f"{n(m.limit, 2)} W needed"
    ),
    "the propeller or gearing",
    at_most=False,
    short="too few volts",
    where="drive",
)


def want_columns(
    job: Job, c: Candidates, d: Discharge, *, landing_ah: Floats, lively: Floats
) -> list[CheckColumn]:
    """The electronics' window, the charge given, the drive, and whatever of minutes, mass, liveliness, volts
    and rpm is wanted.

    ``landing_ah`` is the charge from the start to the landing point [Ah], ``lively`` from `liveliness`;
    shape (N,).
    """
    return [
        *_window(job, c, d),
        _delivers(d, landing_ah),
        *_drive(job, c, d),
        *_lively(job, lively),
        *_wanted(job, c, d),
    ]


def _window(job: Job, c: Candidates, d: Discharge) -> Iterator[CheckColumn]:
    e, many = job.electronics, len(c)
    full_v = chemistry_column("full_v")[c.chemistry_index] * c.series
    full_v = snapped(full_v, e.max_v, TOUCHED_V)
    rated = f"rated for {e.rated_cells} LiPo cells" if e.rated_cells else "as given"
    if (served := job.equipment) is not None:
        yield CheckColumn(FULL, full_v, every(many, e.max_v), f"{served.seen_by}, as given")
        through = d.lowest_voltage_v - served.drop_v
        device_v = through if served.out_v is None else np.minimum(through, served.out_v)
        yield CheckColumn(DEVICE, device_v, every(many, served.least_v), f"{served.name}, as given")
        return
    guessed = np.full(many, job.is_assumed("electronics.max_v"))
    asks = f"{n(e.max_v)} V assumed, what it runs on now: {{loading}}; what is the controller rated for?"
    yield CheckColumn(FULL, full_v, every(many, e.max_v), f"controller, {rated}", guessed, asks)
    yield CheckColumn(LANDING, d.lowest_voltage_v, every(many, e.min_v), "controller’s lowest volts")


def _delivers(d: Discharge, landing_ah: Floats) -> CheckColumn:
    whole = np.isin(d.ending, (int(Ending.REACHED_LANDING), int(Ending.RAN_TOO_LONG)))
    given_ah = np.where(whole, landing_ah, d.used_ah)
    return CheckColumn(DELIVERS, given_ah, landing_ah, "landing point of the house rules")


def _drive(job: Job, c: Candidates, d: Discharge) -> Iterator[CheckColumn]:
    """With the same propeller or gearing: whether full stick still gives the watts that the gentle part
    needs."""
    duty, k = job.duty, job.motion.throttle_exponent
    steady = [p.current_a for p in duty.phases if p.hold == "power"]
    stick = [p.current_a for p in duty.phases if p.hold == "throttle"]
    if job.drive != "same" or not steady or not stick:
        return
    factor = mass_factor(job.mass_g + c.mass_g, reference_mass_g=duty.reference_mass_g, motion=job.motion)
    need_w = max(steady) * duty.reference_voltage_v * factor
    ratio = d.mean_voltage_v / duty.stick_voltage_v
    full_stick_w = max(stick) * duty.stick_voltage_v * ratio ** (k + 1)
    yield CheckColumn(DRIVE, full_stick_w, need_w, "watts of the gentle part, at this mass")


def _lively(job: Job, lively: Floats) -> Iterator[CheckColumn]:
    if job.drive != "same" or not job.wants.lively:
        return
    limit = every(len(lively), 100 * job.wants.lively)
    # another chemistry that was asked for has its own punch: that is told, and rules out nothing
    asked_for = job.now is not None and job.now.chemistry not in job.wants.chemistries
    spec = replace(LIVELY, wish=False, required=False) if asked_for else LIVELY
    yield CheckColumn(spec, 100 * lively, limit, "full-stick watts on what it runs on now")


NOBODY_MINDS = 0.01
"""Share of the wanted minutes by which nobody calls a run too short. House figure."""


def snapped_up(minutes: Floats, wanted: float) -> Floats:
    """Minutes that are as good as those wanted, as those."""
    near = (minutes < wanted) & (minutes >= (1 - NOBODY_MINDS) * wanted)
    return np.where(near, wanted, minutes)


def _wanted(job: Job, c: Candidates, d: Discharge) -> Iterator[CheckColumn]:
    wants, kv = job.wants, job.electronics.motor_kv

    def column(spec: Spec, value: Floats, limit: float) -> CheckColumn:
        return CheckColumn(spec, value, every(len(c), limit), "wanted")

    if wants.minutes:
        yield column(MINUTES, snapped_up(d.duration_s / 60, wants.minutes), wants.minutes)
    if wants.mass_g:
        asks = "Its mass is assumed: {loading} of the heaviest wanted; what does it weigh?"
        yield CheckColumn(MASS, c.mass_g, every(len(c), wants.mass_g), "wanted", c.mass_assumed, asks)
    if wants.volts:
        yield column(VOLTS, d.mean_voltage_v, wants.volts)
    if wants.rpm and kv:
        yield column(RPM, d.mean_voltage_v * kv, wants.rpm)
