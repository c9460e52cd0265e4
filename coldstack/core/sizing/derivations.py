"""The working behind each figure of a picked candidate, as steps with formula and numbers."""

from __future__ import annotations

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRY_IDS, chemistry
from coldstack.core.cells.resistance import honest_c_of, honest_current_a, temperature_factor
from coldstack.core.discharge.batch import Ending
from coldstack.core.draw.scaling import mass_factor
from coldstack.core.packs.measured import EXPECTED_SPREAD, about
from coldstack.core.packs.resistance import cell_resistances
from coldstack.core.rules.house_rules import CellRules
from coldstack.core.trial.alarm import LoadAlarm, alarm_working
from coldstack.core.trial.evaluate import Evaluation
from coldstack.core.trial.peak import carried_peak
from coldstack.core.trial.spread import MinutesRange, Sensitivity
from coldstack.core.trial.unknowns import (
    CELL_SPREAD,
    DRAWS,
    OCV_SPREAD_V,
    SLOW_TIME_OVER,
    TEMPERATURE_SPREAD_K,
    UNKNOWNS,
)
from coldstack.core.units import DEG, GRAMS, MM, WARMER, clock, plain_number
from coldstack.core.working import Step, Working

LEAST_SHOWN_MIN = 0.05
"""What widens a range by less is not told."""

_ENDINGS = {
    Ending.REACHED_LANDING: "the landing point of the house rules",
    Ending.REACHED_CUTOFF: "the controller’s cut-off, before the landing point",
    Ending.CANNOT_DELIVER: "a collapse: the load asks for more than the pack can give",
    Ending.CELL_TOO_HOT: "the cells getting far too hot",
    Ending.RAN_TOO_LONG: "our limit of six hours",
}


def derivations(
    e: Evaluation,
    row: int,
    spread: MinutesRange,
    rules: CellRules,
    timer_s: int,
    thermal_c: float | None,
    sens: Sensitivity,
    alarm: LoadAlarm,
) -> dict[str, Working]:
    """Workings by the name of the figure they explain."""
    return {
        "minutes": _minutes(e, row, spread, rules),
        "timer": _timer(e, row, spread, timer_s),
        "budget": _budget(e, row, rules),
        "alarm": _alarm(e, row, rules, alarm),
        "full_v": _full_volts(e, row),
        "peak": _peak(e, row),
        "honest_c": _honest_c(e, row, thermal_c),
        "mass": _mass(e, row, sens),
        "temperature": _temperature(e, row),
        "position": _position(e, row),
        "colder": _colder(e, row, sens),
        "one_more_cell": _one_more_cell(e, row, sens),
    }


def _minutes(e: Evaluation, row: int, spread: MinutesRange, rules: CellRules) -> Working:
    n, c, d = plain_number, e.candidates, e.discharge
    ah, average = float(c.capacity_ah[row]), float(d.average_current_a[row])
    used, minutes = float(d.used_ah[row]), float(e.minutes[row])
    usable = rules.start_soc - rules.landing_soc
    steps = (
        Step(
            "Charge to use",
            "Ah × (start − landing)",
            f"{n(ah)} Ah × ({n(rules.start_soc, 2)} − {n(rules.landing_soc, 2)}) = {n(ah * usable)} Ah",
            f"House rules “{e.job.rules.name}”, by {rules.landing_by}",
        ),
        Step("Average draw on this pack", "by simulation, with sag, mass and temperature", f"{n(average)} A"),
        Step(
            "Running time",
            "t = Ah ÷ I",
            f"{n(used)} Ah ÷ {n(average)} A × 60 = {n(minutes)} min",
            f"Ends at {_ENDINGS[Ending(int(d.ending[row]))]}.",
        ),
        *_range_steps(e, row, spread),
    )
    return Working("Minutes", steps, "A measured resistance and a logged draw narrow the range.")


def _range_steps(e: Evaluation, row: int, spread: MinutesRange) -> list[Step]:
    """What widens the range of the minutes, the most first, and the range."""
    c, n = e.candidates, plain_number
    taught = f"by the log {c.learnt_from(row)}" if c.learnt_from(row) else ""
    source = taught or ("measured" if c.measured[row] else "from the label only")
    told = {
        "resistance": f"{about(float(c.resistance_spread[row]))} ({source})",
        "capacity": f"± {100 * c.capacity_spread[row]:.0f} %",
        "draw": f"± {100 * e.job.duty.spread:.0f} %",
        "slow part": f"± {100 * c.slow_spread[row]:.0f} % (what volts lose in the first minutes of a load)",
        "slow part’s time": f"± {100 * SLOW_TIME_OVER * c.slow_spread[row]:.0f} %",
        "resting volts": f"± {1000 * OCV_SPREAD_V:.0f} mV a cell",
        "weakest cell": f"cells ± {100 * CELL_SPREAD:.0f} %, the weakest of {c.series[row]:.0f}",
        "ageing": f"up to {100 * c.ageing[row]:.0f} % lost",
        "temperature": f"± {TEMPERATURE_SPREAD_K:.0f}{WARMER}",
    }
    by = spread.by[row]
    order = [k for k in np.argsort(-by) if by[k] >= LEAST_SHOWN_MIN]
    steps = [Step(f"Range: {UNKNOWNS[k]}", told[UNKNOWNS[k]], f"± {by[k]:.1f} min") for k in order]
    ends = f"{n(float(spread.low[row]))} to {n(float(spread.high[row]))} min"
    return [*steps, Step("Together", f"5th to 95th percentile of {DRAWS} runs drawn from all of these", ends)]


def _timer(e: Evaluation, row: int, spread: MinutesRange, timer_s: int) -> Working:
    low, share = float(spread.low[row]), e.job.used_share
    served = e.job.equipment
    kept = served and Step(
        "Reserve", "of what it lasts", f"{100 * share:.0f} % is used", f"{served.name}: a reserve is kept"
    )
    return Working(
        "Timer",
        (
            Step("Low end of the range", "see Minutes", f"{plain_number(low)} min"),
            *((kept,) if kept else ()),
            Step(
                "Timer",
                "rounded down to 10 s",
                clock(timer_s),
                "rings before the landing point even for a thirsty run",
            ),
        ),
    )


def _budget(e: Evaluation, row: int, rules: CellRules) -> Working:
    n, c = plain_number, e.candidates
    used = float(e.discharge.used_ah[row])
    return Working(
        "Charge to use",
        (
            Step("Capacity", "label", f"{n(float(c.capacity_ah[row]) * 1000, 4)} mAh"),
            Step(
                "Landing point",
                f"the earlier of {100 * e.job.rules.usable_share:.0f} % used and {n(rules.landing_rest_v)} "
                "V a cell at rest",
                f"{n(100 * rules.landing_soc, 2)} % left",
                f"House rules “{e.job.rules.name}”: {e.job.rules.why}",
            ),
            Step("To use", "capacity × (start − landing)", f"{n(used * 1000, 3)} mAh"),
        ),
        e.job.rules.who_differs,
    )


def _alarm(e: Evaluation, row: int, rules: CellRules, alarm: LoadAlarm) -> Working:
    chemistry_id = CHEMISTRY_IDS[int(e.candidates.chemistry_index[row])]
    return alarm_working(e.job.rules, rules, alarm, chemistry_id, int(e.candidates.series[row]))


def _full_volts(e: Evaluation, row: int) -> Working:
    n, c = plain_number, e.candidates
    cell = chemistry(CHEMISTRY_IDS[int(c.chemistry_index[row])])
    s = int(c.series[row])
    return Working(
        "Volts",
        (
            Step("Printed", "cells × nominal", f"{s} × {n(cell.nominal_v)} V = {n(s * cell.nominal_v)} V"),
            Step(
                "Fresh off the charger",
                "cells × full",
                f"{s} × {n(cell.full_v)} V = {n(s * cell.full_v)} V",
                "what the electronics see first",
            ),
            Step("Controller’s limit", "highest volts", f"{n(e.job.electronics.max_v)} V"),
        ),
    )


def _peak(e: Evaluation, row: int) -> Working:
    c, volts = e.candidates, float(e.candidates.nominal_v[row])
    peak = carried_peak(e.job, volts, pack_mass_g=float(c.mass_g[row]))
    end = Step(
        "With the pack’s own volts under load",
        "by simulation",
        f"{plain_number(float(e.discharge.peak_current_a[row]))} A",
        "a full pack starts above its printed volts and sags below",
    )
    return Working("Peak current", (Step("Measured", "peak of the job", peak.told), peak.step, end))


def _resistance_steps(e: Evaluation, row: int) -> list[Step]:
    """What the resistance of a cell was made of: what was to be expected, what was measured, and both."""
    c, n, pack = e.candidates, plain_number, e.candidates.packs[row]
    by_label = f"from the label, taken {e.job.label_trust.replace('_', ' ')}"
    if pack is None or c.kind(row).joined or not pack.resistance_found:
        how = f"measured at mid charge, 25{DEG}" if c.measured[row] else by_label
        return [Step("Resistance of a cell", how, f"{n(float(c.cell_mohm[row]))} mΩ")]
    _, _, expected = cell_resistances([pack], e.job.label_trust)
    steps = [
        Step("Expected of a cell", by_label, f"{n(float(expected[0]))} mΩ, {about(EXPECTED_SPREAD[0])}"),
        *(
            Step("Measured", f"by {by}, at 25{DEG} and mid charge", f"{n(m.value)} mΩ, {about(m.spread)}")
            for by, m in pack.resistance_found.items()
        ),
    ]
    both = f"{n(float(c.cell_mohm[row]))} mΩ, {about(float(c.resistance_spread[row]))}"
    why = "each by its own error; a label that a reading contradicts counts for nearly nothing"
    return [*steps, Step("Resistance of a cell", "all of that, in logarithms", both, why)]


def _honest_c(e: Evaluation, row: int, thermal_c: float | None) -> Working:
    n, c = plain_number, e.candidates
    r, ah = float(c.cell_mohm[row]), float(c.capacity_ah[row])
    amps = float(honest_current_a(r, ah))
    steps = [
        *_resistance_steps(e, row),
        Step(
            "Honest current",
            "2.5·√(Ah ÷ R)",
            f"2.5 × √({n(ah)} ÷ {n(r / 1000)} Ω) = {n(amps)} A",
            "6.25 W of heat per Ah in each cell: the trade’s rule",
        ),
        Step("Honest C", "I ÷ Ah", f"{n(amps)} ÷ {n(ah)} = {n(honest_c_of(r, ah))}C"),
        Step(
            "Thermal C",
            f"steady current that just meets 60{DEG} at landing, in this bay and air",
            f"{n(thermal_c)}C" if thermal_c else "not reached within the pack’s volts",
            "the rule fixes heat, not temperature: this one does",
        ),
    ]
    limit = float(c.continuous_a[row])
    if limit < amps * 0.999:
        steps.append(Step("Taken as limit", "never above the maker’s label or data sheet", f"{n(limit)} A"))
    return Working("Honest C", tuple(steps))


def _mass(e: Evaluation, row: int, sens: Sensitivity) -> Working:
    n, c, job = plain_number, e.candidates, e.job
    total = job.mass_g + float(c.mass_g[row])
    factor = float(mass_factor(total, reference_mass_g=job.duty.reference_mass_g, motion=job.motion))
    steps = [
        Step(
            "All up",
            "model + pack",
            f"{n(job.mass_g, 4)}{GRAMS} + {n(float(c.mass_g[row]), 4)}{GRAMS} = {n(total, 4)}{GRAMS}",
        ),
        Step(
            "Watts for the mass",
            "(m ÷ m_ref)^n",
            f"({n(total, 4)} ÷ {n(job.duty.reference_mass_g, 4)})^{job.motion.mass_exponent:g} = {n(factor)}",
            job.motion.name,
        ),
        Step(
            f"{n(sens.extra_mass_g)}{GRAMS} more of the same",
            "by simulation",
            f"{sens.extra_minutes:+.1f} min",
        ),
        Step(
            "More pack runs shorter",
            "beyond the longest-running mass of the same make",
            f"{n(sens.turning_mass_g)}{GRAMS}" if sens.turning_mass_g else "not within reason",
        ),
    ]
    if job.motion.mass_exponent > 1:
        steps.append(
            Step(
                "The same in closed form",
                "m_model ÷ (n − 1)",
                f"{n(job.mass_g / (job.motion.mass_exponent - 1))}{GRAMS}",
                "if all the draw were watts and the pack ideal",
            )
        )
    return Working("Mass", tuple(steps))


def _temperature(e: Evaluation, row: int) -> Working:
    n, d = plain_number, e.discharge
    end = float(d.end_temperature_c[row])
    heat = float(d.heat_wh[row])
    share = heat / max(float(d.energy_wh[row]) + heat, 1e-9)
    return Working(
        "Cell temperature",
        (
            Step("Air and start", "bay", f"{n(e.job.bay.air_c)}{DEG}"),
            Step("Heat", "Σ (I²·R0 + v²/R1) t", f"{n(heat)} Wh, {n(100 * share, 2)} % of the energy"),
            Step(
                "When landing",
                "m·c·dT/dt = heat − h·A·(T − air)",
                f"{n(end)}{DEG}",
                f"{e.job.bay.airflow} bay; warn at 50, at most 60{DEG}",
            ),
        ),
    )


def _colder(e: Evaluation, row: int, sens: Sensitivity) -> Working:
    n, minutes = plain_number, float(e.minutes[row])
    ratio = float(temperature_factor(e.job.bay.air_c - 10.0) / temperature_factor(e.job.bay.air_c))
    steps = [
        Step("Resistance", "exp(B·(1/T − 1/T′)), B = 2600 K", f"{n(ratio)} times", f"10{WARMER} colder"),
        Step(
            "Minutes", "by simulation, air and pack both colder", f"{n(minutes)} {sens.ten_colder:+.1f} min"
        ),
    ]
    note = (
        "Full stick follows the volts: a pack that sags more also draws less there, so colder can be a "
        "little longer, with less push."
    )
    return Working(f"10{WARMER} colder", tuple(steps), note if e.job.drive == "same" else "")


def _one_more_cell(e: Evaluation, row: int, sens: Sensitivity) -> Working:
    n, c = plain_number, e.candidates
    s = int(c.series[row])
    drive = "the same propeller or gearing" if e.job.drive == "same" else "the same watts"
    more = sens.one_more_cell or 0.0
    return Working(
        "One more cell in series",
        (
            Step(
                "Pack",
                "the same capacity, mass for one cell more",
                f"{s + 1}S, {n(float(c.mass_g[row]) * (s + 1) / s)}{GRAMS}",
            ),
            Step(
                "Minutes",
                f"by simulation, with {drive}",
                f"{n(float(e.minutes[row]))} {more:+.1f} min",
                "whether the electronics accept it is another matter: see the cell counts",
            ),
        ),
    )


def _position(e: Evaluation, row: int) -> Working:
    n, job, mass = plain_number, e.job, float(e.candidates.mass_g[row])
    bay = job.bay
    if bay.balance_at_mm is None or bay.empty_balance_mm is None:
        return Working("Where the pack must lie", (Step("Balance", "", "the balance points are not given"),))
    total = job.mass_g + mass
    at = (bay.balance_at_mm * total - bay.empty_balance_mm * job.mass_g) / mass
    return Working(
        "Where the pack must lie",
        (
            Step(
                "Moments",
                "(x_cg·m_total − x_0·m_0) ÷ m_pack",
                f"({n(bay.balance_at_mm)} × {n(total, 4)} − {n(bay.empty_balance_mm)} × "
                f"{n(job.mass_g, 4)}) ÷ {n(mass)} = {n(at)}{MM}",
                "from the datum the other positions are measured from",
            ),
        ),
    )
