"""One cell more or fewer: which propeller or gearing keeps controller and motor inside their limits, and what
that does to minutes and speed."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.counts import LEAST_SERIES, MOST_SERIES
from coldstack.core.describing.estimated import answers_of
from coldstack.core.describing.physics import LOADED_SHARE, ROOM_C, full_stick
from coldstack.core.propulsion.motor import HELD_SPEED, Motor
from coldstack.core.propulsion.propeller import air_density
from coldstack.core.propulsion.refits import (
    FullStickLimits,
    Refit,
    Setup,
    as_strong,
    largest_within,
    refit,
)
from coldstack.core.readings.tolerance import passes_volts
from coldstack.core.rules.house_rules import for_chemistry
from coldstack.core.trial.job import USUAL_BURST_SHARE, Electronics, Job, RunsOn


@dataclass(frozen=True, slots=True)
class OtherCells:
    """A setup on so many cells: ``fitted`` the propeller or gearing in words; amps of the pack at full stick;
    pull and speed over the present ones (None where it is not known); about so many minutes of a pack of the
    present capacity; ``loading`` of what binds, ``bound``; ``note`` what speaks against it, or its point."""

    cells: int
    fitted: str
    full_stick_a: float
    pull: float | None
    speed: float | None
    minutes: float
    loading: float | None
    bound: str
    note: str
    as_now: bool = False


def other_cells(job: Job) -> tuple[OtherCells, ...]:
    """Present cells, one fewer and one more: with the propeller or gearing of now, with what pulls or goes as
    now, and with the largest propeller inside its limits. Empty where what drives it was not told.

    Amps go by the job's own peak, measured or estimated; minutes by its duty, in closed form: the gentle part
    keeps its watts (by mass), the peak takes those of the new setup.
    """
    if job.now is None or job.duty.stick_current_a is None:
        return ()
    counts = [job.now.series + k for k in (-1, 0, 1)]
    counts = [n for n in counts if LEAST_SERIES <= n <= MOST_SERIES]
    if job.motion.geared:
        return tuple(x for n in counts for x in _geared(job, job.now, n))
    setup = _setup(job)
    if setup is None:
        return ()
    return tuple(x for n in counts for x in _with_propellers(job, job.now, setup, n))


def _setup(job: Job) -> Setup | None:
    a = answers_of(job)
    if a is None or full_stick(a) is None or job.duty.stick_current_a is None:
        return None
    propeller = a.propulsion.turns
    assert propeller is not None and a.limits.motor_kv is not None
    motor = Motor(a.limits.motor_kv, a.propulsion.motor_mohm, a.propulsion.no_load_a)
    full_v = chemistry(a.now.chemistry).full_v
    return Setup(
        motor,
        propeller,
        LOADED_SHARE * a.now.series * full_v,
        job.duty.stick_current_a,
        HELD_SPEED[job.motion.id],
        air_density(ROOM_C),
    )


def limits_of(e: Electronics, assumed: frozenset[str]) -> FullStickLimits:
    """What all its controllers and motors carry for seconds, of what somebody told. [A]"""

    def told(name: str, link: str) -> float | None:
        steady = getattr(e, f"{name}_continuous_a")
        if steady is None or f"electronics.{name}_continuous_a" in assumed:
            return None
        burst = getattr(e, f"{name}_burst_a") or USUAL_BURST_SHARE * steady
        return float(burst) * e.sharing(link)

    return FullStickLimits(told("controller", "controller"), told("motor", "motor"))


def _with_propellers(job: Job, now: RunsOn, setup: Setup, cells: int) -> list[OtherCells]:
    volts = setup.volts * cells / now.series
    limits = limits_of(job.electronics, job.assumed)
    same = refit(setup, setup.propeller, volts, limits)
    found = [_row(job, now, cells, same, "the propeller of now")]
    strong = None if cells == now.series else as_strong(setup, volts, limits)
    if strong is not None and strong.propeller != setup.propeller:
        found.append(_row(job, now, cells, strong, "pulls as now"))
    largest = None if _volts_note(job, now, cells) else largest_within(setup, volts, limits)
    if largest is not None and largest.propeller not in (x.propeller for x in (same, strong) if x):
        found.append(_row(job, now, cells, largest, "the largest inside its limits"))
    return found


def _row(job: Job, now: RunsOn, cells: int, r: Refit, point: str) -> OtherCells:
    over = r.loading is not None and r.loading > 1
    note = f"too much for its {r.bound}" if over else point
    return OtherCells(
        cells,
        r.propeller.words,
        r.full_stick_a,
        r.thrust,
        r.pitch_speed,
        _minutes(job, now, cells, r.full_stick_a),
        r.loading,
        r.bound,
        _volts_note(job, now, cells) or note,
        as_now=cells == now.series and point == "the propeller of now",
    )


def _geared(job: Job, now: RunsOn, cells: int) -> list[OtherCells]:
    """The gearing of now: speed and full-stick amps follow the volts; and geared so that it stays as quick,
    with amps for the same watts."""
    ratio, told = cells / now.series, job.propulsion.gear_ratio
    stick_a = job.duty.stick_current_a or 0.0
    least = limits_of(job.electronics, job.assumed).least

    def row(fitted: str, amps: float, speed: float, point: str) -> OtherCells:
        loading = None if least is None else amps / least[0]
        bound = "" if least is None else least[1]
        over = loading is not None and loading > 1
        return OtherCells(
            cells,
            fitted,
            amps,
            None,
            speed,
            _minutes(job, now, cells, amps),
            loading,
            bound,
            _volts_note(job, now, cells) or (f"too much for its {bound}" if over else point),
            as_now=cells == now.series,
        )

    same = row("as now" if told is None else f"{told:.3g} : 1", stick_a * ratio, ratio, "the gearing of now")
    if cells == now.series:
        return [same]
    fitted = f"{100 * abs(ratio - 1):.0f} % {'shorter' if ratio > 1 else 'longer'}"
    if told is not None:
        fitted = f"{told * ratio:.3g} : 1"
    return [same, row(fitted, stick_a / ratio, 1.0, "as quick as now")]


def _volts_note(job: Job, now: RunsOn, cells: int) -> str:
    """What its electronics say against so many cells; empty where they do not, or nobody told."""
    full_v = cells * chemistry(now.chemistry).full_v
    if passes_volts(full_v, job.electronics.max_v):
        if job.is_assumed("electronics.max_v"):
            return "whether its electronics take these volts, nobody said"
        return f"{full_v:.1f} V when full: more than its electronics take ({job.electronics.max_v:.1f} V)"
    return ""


def _minutes(job: Job, now: RunsOn, cells: int, stick_a: float) -> float:
    """About so long on a pack of the present capacity and chemistry: usable energy ÷ mean watts. [min]"""
    volts = cells * now.nominal_v / now.series
    heavier = (job.mass_g + now.mass_g * cells / now.series) / job.duty.reference_mass_g
    duty = job.duty
    told_a = duty.stick_current_a or 1.0
    watts = 0.0
    for phase in duty.phases:
        if phase.hold == "throttle":
            watts += phase.duration_s * phase.current_a / told_a * stick_a * volts
        else:
            kept = phase.current_a * duty.reference_voltage_v * heavier**job.motion.mass_exponent
            watts += phase.duration_s * kept
    mean_w = watts / duty.cycle_s
    usable_wh = now.capacity_ah * volts * for_chemistry(job.rules, now.chemistry).usable
    return 60 * usable_wh / mean_w
