"""Facts of a picked candidate that hold or do not, without a number to compare: each a caution in words."""

from __future__ import annotations

from coldstack.core.cells.chemistry import CHEMISTRY_IDS, chemistry
from coldstack.core.checks import Check, check_statement
from coldstack.core.safety.cautions import NO_CUTOFF
from coldstack.core.trial.alarm import LoadAlarm
from coldstack.core.trial.evaluate import Evaluation, surroundings
from coldstack.core.units import DEG

COLD_START_C = 10.0
"""Below this at the start the resistance is told of. House figure."""
MORE_VOLTS = 1.02
"""From this ratio of volts a brushed motor is said to wear faster: 7.4 V for 7.2 V counts."""


def statements(e: Evaluation, row: int, *, alarm: LoadAlarm, fragile: bool) -> list[Check]:
    """What to mind of one candidate.

    ``fragile`` from `MinutesRange`.
    """
    found = [
        *_without_cutoff(e, row),
        *_brushed_motor(e, row),
        *_cold_start(e),
        *_early_alarm(e, alarm),
        *_left_plugged_in(e, row),
    ]
    return [*found, _fragile(e, row)] if fragile else found


def _caution(check_id: str, title: str, sentence: str, source: str) -> Check:
    return check_statement(check_id, title, verdict="caution", sentence=sentence, limit_source=source)


def _without_cutoff(e: Evaluation, row: int) -> list[Check]:
    """A lithium pack on a controller that does not cut off, as NiMH-era ones: the cut-off, and the volts it
    will see."""
    cell = chemistry(CHEMISTRY_IDS[int(e.candidates.chemistry_index[row])])
    if e.job.equipment is not None or e.job.electronics.cutoff != "none" or cell.charge_method != "cc_cv":
        return []
    series = float(e.candidates.series[row])
    volts = (
        f"Printed {cell.nominal_v * series:.1f} V, it comes off the charger at {cell.full_v * series:.1f} V. "
        "Electronics made for NiMH must be allowed to see that by their maker."
    )
    return [
        _caution("window.cutoff", "Low-voltage cut-off", NO_CUTOFF.sentence, "controller"),
        _caution("window.full_charge", "Volts at full charge", volts, "controller"),
    ]


def _brushed_motor(e: Evaluation, row: int) -> list[Check]:
    printed_v, used_v = float(e.candidates.nominal_v[row]), e.job.told_at_v
    if not e.job.electronics.brushed or printed_v <= MORE_VOLTS * used_v:
        return []
    sentence = (
        f"A brushed motor on {printed_v:.1f} V instead of {used_v:.1f} V turns faster and wears its "
        "brushes sooner."
    )
    return [_caution("motor.brushes", "Brushed motor", sentence, "motor")]


def _cold_start(e: Evaluation) -> list[Check]:
    start_c = surroundings(e.job).start_c
    if start_c >= COLD_START_C:
        return []
    sentence = (
        f"At {start_c:g}{DEG} the cells’ resistance is higher: warm the pack before the start, and never "
        f"charge it below 0{DEG}."
    )
    return [_caution("cells.cold", "Cold start", sentence, "computation at the pack’s temperature")]


def _early_alarm(e: Evaluation, alarm: LoadAlarm) -> list[Check]:
    if not alarm.early or alarm.sounds_s is None:
        return []
    sentence = (
        f"The alarm first sounds {alarm.sounds_s / 60:.1f} min into the run, long before the landing point: "
        "the volts dip under load, and the house sets it no lower. Go by the timer."
    )
    return [_caution("run.alarm", "Alarm before landing", sentence, f"{e.job.rules.cited}")]


LONG_DAYS = 120.0
"""What takes longer than this to empty a pack is not told. House figure."""


def _left_plugged_in(e: Evaluation, row: int) -> list[Check]:
    """How soon what a switched-off device or regulator takes empties the pack."""
    served = e.job.equipment
    if served is None or not served.idle_ma:
        return []
    days = float(e.candidates.capacity_ah[row]) * 1000 / served.idle_ma / 24
    if days > LONG_DAYS:
        return []
    sentence = (
        f"Left plugged in, {served.idle_ma:g} mA empty it in {days:.0f} days, and empty cells are lost: "
        "unplug it."
    )
    return [_caution("run.idle", "Left plugged in", sentence, "as given")]


def _fragile(e: Evaluation, row: int) -> Check:
    known = "was measured" if e.candidates.measured[row] else "is by the label alone"
    sentence = (
        f"With a little more resistance (it {known}), draw or cold than assumed, the controller stops "
        "at a peak long before the landing point. Measure the resistance before relying on it."
    )
    return _caution("run.fragile", "Early stop", sentence, "range of the resistance")
