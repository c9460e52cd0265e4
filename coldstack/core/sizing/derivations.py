"""The working behind each figure of a picked candidate, as steps with formula and numbers."""

from __future__ import annotations

from coldstack.core.cells.chemistry import CHEMISTRY_IDS, chemistry
from coldstack.core.cells.resistance import honest_c_of, honest_current_a, temperature_factor
from coldstack.core.discharge.batch import Ending
from coldstack.core.draw.scaling import mass_factor, refitted_current_a, throttle_current_a
from coldstack.core.rules.house_rules import CellRules, HouseRules
from coldstack.core.sizing.evaluate import Evaluation
from coldstack.core.sizing.spread import MinutesRange, Sensitivity
from coldstack.core.units import clock, plain_number
from coldstack.core.working import Step, Working

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
) -> dict[str, Working]:
    """Workings by the name of the figure they explain."""
    return {
        "minutes": _minutes(e, row, spread, rules),
        "timer": _timer(e, row, spread, timer_s),
        "budget": _budget(e, row, rules),
        "alarm": _alarm(e, row, rules),
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
    source = "measured resistance" if c.measured[row] else "resistance from the label only"  # fmt: skip
    steps = (
        Step("Charge to use", "Ah × (start − landing)", f"{n(ah)} Ah × ({n(rules.start_soc, 2)} − {n(rules.landing_soc, 2)}) = {n(ah * usable)} Ah", f"House rules “{e.job.rules.name}”, by {rules.landing_by}"),
        Step("Average draw on this pack", "by simulation, with sag, mass and temperature", f"{n(average)} A"),
        Step("Running time", "t = Ah ÷ I", f"{n(used)} Ah ÷ {n(average)} A × 60 = {n(minutes)} min", f"Ends at {_ENDINGS[Ending(int(d.ending[row]))]}."),
        Step("Range: resistance", f"± {100 * c.resistance_spread[row]:.0f} % ({source})", f"± {abs(float(spread.by_resistance[row])):.1f} min"),
        Step("Range: capacity", f"± {100 * c.capacity_spread[row]:.0f} %", f"± {abs(float(spread.by_capacity[row])):.1f} min"),
        Step("Range: draw", f"± {100 * e.job.duty.spread:.0f} %", f"± {abs(float(spread.by_draw[row])):.1f} min"),
        Step("Together", "roots of the sums of squares, down and up apart", f"{n(float(spread.low[row]))} to {n(float(spread.high[row]))} min"),
    )  # fmt: skip
    return Working("Minutes", steps, "A measured resistance and a logged draw narrow the range.")


def _timer(e: Evaluation, row: int, spread: MinutesRange, timer_s: int) -> Working:
    low = float(spread.low[row])
    return Working("Timer", (
        Step("Low end of the range", "see Minutes", f"{plain_number(low)} min"),
        Step("Timer", "rounded down to 10 s", clock(timer_s), "rings before the landing point even for a thirsty run"),
    ))  # fmt: skip


def _budget(e: Evaluation, row: int, rules: CellRules) -> Working:
    n, c = plain_number, e.candidates
    used = float(e.discharge.used_ah[row])
    return Working("Charge to use", (
        Step("Capacity", "label", f"{n(float(c.capacity_ah[row]) * 1000, 4)} mAh"),
        Step("Landing point", f"the earlier of {100 * e.job.rules.usable_share:.0f} % used and {n(rules.landing_rest_v)} V a cell at rest", f"{n(100 * rules.landing_soc, 2)} % left", f"House rules “{e.job.rules.name}”: {e.job.rules.why}"),
        Step("To use", "capacity × (start − landing)", f"{n(used * 1000, 3)} mAh"),
    ), e.job.rules.who_differs)  # fmt: skip


def _alarm(e: Evaluation, row: int, rules: CellRules) -> Working:
    chemistry_id = CHEMISTRY_IDS[int(e.candidates.chemistry_index[row])]
    return alarm_working(e.job.rules, rules, chemistry_id, int(e.candidates.series[row]))


def alarm_working(house: HouseRules, rules: CellRules, chemistry_id: str, series: int) -> Working:
    """Where the alarm is set, from the house rule for LiPo to this pack."""
    n = plain_number
    return Working("Alarm", (
        Step("House rule", "volts per LiPo cell under load", f"{n(house.alarm_loaded_v)} V", f"House rules “{house.name}”"),
        Step(f"The same height in {chemistry(chemistry_id).name}", "between empty and full, never below what damages the cell", f"{n(rules.alarm_v)} V a cell"),
        Step("On the pack", "cells × volts", f"{series} × {n(rules.alarm_v)} V = {n(series * rules.alarm_v)} V"),
    ))  # fmt: skip


def _full_volts(e: Evaluation, row: int) -> Working:
    n, c = plain_number, e.candidates
    cell = chemistry(CHEMISTRY_IDS[int(c.chemistry_index[row])])
    s = int(c.series[row])
    return Working("Volts", (
        Step("Printed", "cells × nominal", f"{s} × {n(cell.nominal_v)} V = {n(s * cell.nominal_v)} V"),
        Step("Fresh off the charger", "cells × full", f"{s} × {n(cell.full_v)} V = {n(s * cell.full_v)} V", "what the electronics see first"),
        Step("Controller’s limit", "highest volts", f"{n(e.job.electronics.max_v)} V"),
    ))  # fmt: skip


def _peak(e: Evaluation, row: int) -> Working:
    n, c, job = plain_number, e.candidates, e.job
    duty = job.duty
    volts = float(c.nominal_v[row])
    peak = duty.peak_current_a
    hold = max(duty.phases, key=lambda p: p.current_a).hold
    at_v = job.stick_told_at_v if hold == "throttle" else job.told_at_v
    start = Step("Measured", "peak of the job", f"{n(peak)} A at {n(at_v)} V")
    if hold == "throttle" and job.drive == "same":
        what = "propeller" if job.motion.throttle_exponent == 2 else "gearing"
        ratio = volts / at_v
        moved = float(throttle_current_a(peak, voltage_v=volts, reference_voltage_v=at_v, motion=job.motion))
        step = Step(f"Same {what} at {n(volts)} V", f"I·(V ÷ V_ref)^{job.motion.throttle_exponent}", f"{n(peak)} A × {n(ratio)}^{job.motion.throttle_exponent} = {n(moved)} A", "full stick follows the volts")  # fmt: skip
    else:
        moved = float(refitted_current_a(peak, voltage_v=volts, reference_voltage_v=at_v))
        factor = float(mass_factor(job.mass_g + c.mass_g[row], reference_mass_g=duty.reference_mass_g, motion=job.motion)) if hold == "power" else 1.0  # fmt: skip
        step = Step(
            f"Same watts at {n(volts)} V",
            "I·V_ref ÷ V × (m ÷ m_ref)^n",
            f"{n(peak)} A × {n(at_v)} ÷ {n(volts)} × {n(factor)} = {n(moved * factor)} A",
        )
    end = Step("With the pack’s own volts under load", "by simulation", f"{n(float(e.discharge.peak_current_a[row]))} A", "a full pack starts above its printed volts and sags below")  # fmt: skip
    return Working("Peak current", (start, step, end))


def _honest_c(e: Evaluation, row: int, thermal_c: float | None) -> Working:
    n, c = plain_number, e.candidates
    r, ah = float(c.resistance_mohm[row]), float(c.capacity_ah[row])
    measured = c.measured[row]
    amps = float(honest_current_a(r, ah))
    steps = [
        Step("Resistance of a cell", "measured at mid charge, 25 °C" if measured else f"from the label, taken {e.job.label_trust.replace('_', ' ')}", f"{n(r)} mΩ"),
        Step("Honest current", "2.5·√(Ah ÷ R)", f"2.5 × √({n(ah)} ÷ {n(r / 1000)} Ω) = {n(amps)} A", "6.25 W of heat per Ah in each cell: the trade’s rule"),
        Step("Honest C", "I ÷ Ah", f"{n(amps)} ÷ {n(ah)} = {n(honest_c_of(r, ah))}C"),
        Step("Thermal C", "steady current that just meets 60 °C at landing, in this bay and air", f"{n(thermal_c)}C" if thermal_c else "not reached within the pack’s volts", "the rule fixes heat, not temperature: this one does"),
    ]  # fmt: skip
    limit = float(c.continuous_a[row])
    if limit < amps * 0.999:
        steps.append(Step("Taken as limit", "never above the maker’s label or data sheet", f"{n(limit)} A"))  # fmt: skip
    return Working("Honest C", tuple(steps))


def _mass(e: Evaluation, row: int, sens: Sensitivity) -> Working:
    n, c, job = plain_number, e.candidates, e.job
    total = job.mass_g + float(c.mass_g[row])
    factor = float(mass_factor(total, reference_mass_g=job.duty.reference_mass_g, motion=job.motion))  # fmt: skip
    steps = [
        Step("All up", "model + pack", f"{n(job.mass_g, 4)} g + {n(float(c.mass_g[row]), 4)} g = {n(total, 4)} g"),
        Step("Watts for the mass", "(m ÷ m_ref)^n", f"({n(total, 4)} ÷ {n(job.duty.reference_mass_g, 4)})^{job.motion.mass_exponent:g} = {n(factor)}", job.motion.name),
        Step(f"{n(sens.extra_mass_g)} g more of the same", "by simulation", f"{sens.extra_minutes:+.1f} min"),
        Step("More pack runs shorter", "beyond the longest-running mass of the same make", f"{n(sens.turning_mass_g)} g" if sens.turning_mass_g else "not within reason"),
    ]  # fmt: skip
    if job.motion.mass_exponent > 1:
        steps.append(Step("The same in closed form", "m_model ÷ (n − 1)", f"{n(job.mass_g / (job.motion.mass_exponent - 1))} g", "if all the draw were watts and the pack ideal"))  # fmt: skip
    return Working("Mass", tuple(steps))


def _temperature(e: Evaluation, row: int) -> Working:
    n, d = plain_number, e.discharge
    end = float(d.end_temperature_c[row])
    heat = float(d.heat_wh[row])
    share = heat / max(float(d.energy_wh[row]) + heat, 1e-9)
    return Working("Cell temperature", (
        Step("Air and start", "bay", f"{n(e.job.bay.air_c)} °C"),
        Step("Heat", "Σ (I²·R0 + v²/R1) t", f"{n(heat)} Wh, {n(100 * share, 2)} % of the energy"),
        Step("When landing", "m·c·dT/dt = heat − h·A·(T − air)", f"{n(end)} °C", f"{e.job.bay.airflow} bay; warn at 50, at most 60 °C"),
    ))  # fmt: skip


def _colder(e: Evaluation, row: int, sens: Sensitivity) -> Working:
    n, minutes = plain_number, float(e.minutes[row])
    ratio = float(temperature_factor(e.job.bay.air_c - 10.0) / temperature_factor(e.job.bay.air_c))
    steps = [
        Step("Resistance", "exp(B·(1/T − 1/T′)), B = 2600 K", f"{n(ratio)} times", "10 °C colder"),
        Step("Minutes", "by simulation, air and pack both colder", f"{n(minutes)} {sens.ten_colder:+.1f} min"),
    ]  # fmt: skip
    note = "Full stick follows the volts: a pack that sags more also draws less there, so colder can be a little longer, with less push."  # fmt: skip
    return Working("10 °C colder", tuple(steps), note if e.job.drive == "same" else "")


def _one_more_cell(e: Evaluation, row: int, sens: Sensitivity) -> Working:
    n, c = plain_number, e.candidates
    s = int(c.series[row])
    drive = "the same propeller or gearing" if e.job.drive == "same" else "the same watts"
    more = sens.one_more_cell or 0.0
    return Working("One more cell in series", (
        Step("Pack", "the same capacity, mass for one cell more", f"{s + 1}S, {n(float(c.mass_g[row]) * (s + 1) / s)} g"),
        Step("Minutes", f"by simulation, with {drive}", f"{n(float(e.minutes[row]))} {more:+.1f} min", "whether the electronics accept it is another matter: see the cell counts"),
    ))  # fmt: skip


def _position(e: Evaluation, row: int) -> Working:
    n, job, mass = plain_number, e.job, float(e.candidates.mass_g[row])
    bay = job.bay
    if bay.balance_at_mm is None or bay.empty_balance_mm is None:
        return Working("Where the pack must lie", (Step("Balance", "", "the balance points are not given"),))
    total = job.mass_g + mass
    at = (bay.balance_at_mm * total - bay.empty_balance_mm * job.mass_g) / mass
    return Working("Where the pack must lie", (
        Step("Moments", "(x_cg·m_total − x_0·m_0) ÷ m_pack", f"({n(bay.balance_at_mm)} × {n(total, 4)} − {n(bay.empty_balance_mm)} × {n(job.mass_g, 4)}) ÷ {n(mass)} = {n(at)} mm", "from the datum the other positions are measured from"),
    ))  # fmt: skip
