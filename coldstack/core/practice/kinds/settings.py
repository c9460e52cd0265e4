"""Set a charger for a pack: program, cells, amps in its step; later its end volts, timer and cut-off."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from coldstack.core.cells.chemistry import CHEMISTRIES, chemistry
from coldstack.core.charging.amps import PACK_LIMITS, Amps, AmpsLimit, Feed, amps_working, pack_limit
from coldstack.core.charging.charger import Charger
from coldstack.core.charging.margins import CUTOFF_STEP_MAH
from coldstack.core.matching.charge import ChargeFit, charge_fit
from coldstack.core.matching.charger_settings import ChargerSettings, charger_settings
from coldstack.core.packs.pack import Pack
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.charged import BURNS_TIMES, SetTo, charged_so, may_have, over_its_limits, set_to
from coldstack.core.practice.gear import LabelledPack, OnBench, a_charger, a_pack, any_pack
from coldstack.core.practice.task import (
    AnswerOption,
    Answers,
    Came,
    Exercise,
    Given,
    JudgedAnswer,
    Number,
    Outcome,
    Pick,
    PracticeTask,
    Ran,
    TaskQuestion,
    judged,
    number_of,
    one_of,
)
from coldstack.core.readings.tolerance import over_full
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.units import lower_first, plain_number
from coldstack.core.working import Step, Working

ID, NAME = "settings", "Set the charger"
PROGRAM = TaskQuestion(
    "program", "Which program?", Pick(tuple(AnswerOption(c.id, c.name) for c in CHEMISTRIES.values()), "one")
)
CELLS = TaskQuestion("series", "How many cells?", Number("", 1.0))
END_V_OFF = 0.05
"""End volts of the pack may be off by so much: it is set in tenths or hundredths. House figure. [V]"""
OFF = "off"
_TRIES = 100
_FACTORS = (0.4, 1.0, 2.5)
"""The timer, and others that nobody could take for it."""


@dataclass(frozen=True, slots=True)
class ToCharge:
    """A pack and a charger that can charge it, with what is to be set."""

    made: LabelledPack
    by: OnBench
    fit: ChargeFit
    amps: Amps
    settings: ChargerSettings


def laid(by: Chance, given: Given, suits: Callable[[Pack], bool] = any_pack) -> ToCharge:
    """A pack that suits and a charger, as often as it takes until one can charge the other; made up where
    none of one's own does."""
    for k in range(_TRIES):
        of = given if k < _TRIES / 2 else Given(given.seed, given.level, given.rules)
        made, on = a_pack(by, of, suits=suits), a_charger(by, of)
        fit = charge_fit(made.pack, on.charger, rules=given.rules, feed=Feed("mains"), bench=on.bench)
        found = charger_settings(fit, rules=given.rules, trust="cautious")
        if fit.amps is not None and found is not None:
            return ToCharge(made, on, fit, fit.amps, found)
    raise AssertionError("no made-up charger charges any made-up pack")


def make(by: Chance, given: Given) -> Exercise:
    """A pack's label and a charger's sheet; what to set."""
    of = laid(by, given)
    pack, charger, rules = of.made.pack, of.by.charger, given.rules
    asked = [PROGRAM, CELLS, TaskQuestion("amps", "How many amps?", Number("A", charger.step_a))]
    if given.level != "first_day" and of.settings.end_v is not None:
        asked.append(
            TaskQuestion("end_v", "At how many volts does it end, all cells together?", Number("V", 0.05))
        )
    if given.level == "expert":
        asked += [_timer(by, of), _cutoff(by, of)]
    words = f"Charge it by the house rules “{rules.name}”, as fast as all of it allows."
    if given.level == "expert":
        words += " It was run to its landing point."
    own = given.is_own(pack)
    task = PracticeTask(ID, given.level, given.seed, words, (of.made.label, of.by.sheet), tuple(asked), own)

    def judge(answers: Answers) -> JudgedAnswer:
        came = tuple(_came(q, of, answers, rules) for q in task.questions)
        return judged(came, _working(of), rules.cited)

    def see(answers: Answers) -> Ran | None:
        return charged_so(pack, charger, as_set(pack, answers, rules), rules, given.seed)

    return Exercise(task, judge, see)


def as_set(pack: Pack, answers: Answers, rules: HouseRules) -> SetTo:
    """What the charger was set to by an answer."""
    series = int(min(max(number_of(answers, "series"), 0), 99))
    return set_to(pack, one_of(answers, PROGRAM), series, number_of(answers, "amps"), rules)


def _came(q: TaskQuestion, of: ToCharge, answers: Answers, rules: HouseRules) -> Came:
    pack, charger = of.made.pack, of.by.charger
    if q.id == "program":
        return _program(pack, one_of(answers, PROGRAM), rules)
    if q.id == "series":
        return _cells(pack, number_of(answers, "series"))
    if q.id == "amps":
        return amps_came(pack, charger, of.amps, number_of(answers, "amps"), rules)
    if q.id == "end_v":
        return _end(pack, of.settings.end_v or 0.0, number_of(answers, "end_v"))
    return _guard(q, of.settings, one_of(answers, q))


def _program(pack: Pack, chosen: str, rules: HouseRules) -> Came:
    mine, to = chemistry(pack.chemistry), chemistry(chosen)
    if chosen == pack.chemistry:
        return Came("program", "right", "Right.", mine.name)
    lithium = mine.charge_method == "cc_cv"
    # a lithium cell on a program for peaks has no end; on one of higher volts it ends over full
    if lithium and to.charge_method != "cc_cv":
        words = f"{to.name} waits for a peak that {mine.name} never shows: it is charged until it burns."
        return Came("program", "dangerous", words, mine.name)
    if not lithium:
        words = f"{to.name} holds volts that mean nothing to {mine.name}, and knows no end for it."
        return Came("program", "dangerous", words, mine.name)
    over_mv = 1000 * (to.full_v - mine.full_v)
    if over_its_limits(pack, set_to(pack, chosen, pack.series, 1.0, rules)):
        words = f"{to.name} ends {over_mv:.0f} mV a cell over what {mine.name} may have."
        return Came("program", "dangerous", words, mine.name)
    if over_mv < 0:
        words = f"{to.name} ends {-over_mv:.0f} mV a cell too low: it never gets full."
        return Came("program", "wasteful", words, mine.name)
    words = f"{to.name} ends at the same volts, and stores and warns by others: choose its own."
    return Came("program", "wasteful", words, mine.name)


def _cells(pack: Pack, said: float) -> Came:
    right = f"{pack.series} cell{'s' * (pack.series > 1)}"
    if said == pack.series:
        return Came("series", "right", "Right.", right)
    if chemistry(pack.chemistry).charge_method == "peak":
        words = "The peak ends it all the same; what guards the charge goes by the cells that are set."
        return Came("series", "wasteful", words, right)
    if said > pack.series:
        volts = said * chemistry(pack.chemistry).full_v / pack.series
        words = f"Set to {said:g} cells it goes on past full, towards {volts:.2f} V for each of its {right}."
        return Came("series", "dangerous", words, right)
    return Came(
        "series", "wasteful", f"Set to {said:g} cell{'s' * (said != 1)} it refuses, or stops at once.", right
    )


def amps_came(pack: Pack, charger: Charger, amps: Amps, said: float, rules: HouseRules) -> Came:
    """What comes of so many amps, as far as the charger gives them: far over what the pack may have it is
    driven into danger; less over that, or over what the house allows, it wears."""
    n, right = plain_number, f"{plain_number(amps.current_a)} A"
    if abs(said - amps.current_a) < 1e-6:
        return Came("amps", "right", f"Right. What binds: {lower_first(amps.binding.name)}.", right)
    most, gives = may_have(pack, rules), _gives(amps)
    flows_a = min(said, gives.current_a)
    if flows_a > BURNS_TIMES * most.current_a + 1e-9:
        times = f"{flows_a / most.current_a:.2g} times what it may have {most.by}"
        burns = "swells, and may burn" if chemistry(pack.chemistry).charge_method == "cc_cv" else "vents"
        words = f"{n(flows_a)} A, {times}: it gets hot, {burns}."
        return Came("amps", "dangerous", words, right)
    if flows_a > most.current_a + 1e-9:
        words = f"{n(flows_a)} A is over the {n(most.current_a)} A that it may have {most.by}"
        return Came("amps", "wasteful", f"{words}: amps are rounded down, never up.", right)
    if flows_a > pack_limit(pack, rules).current_a + 1e-9:
        words = f"{n(flows_a)} A does no harm at once; {rules.cited} allow {right}, since more wears it."
        return Came("amps", "wasteful", words, right)
    if said > amps.current_a:
        words = f"It gets no more than {n(gives.current_a)} A: {lower_first(gives.name)}."
        return Came("amps", "wasteful", words, right)
    if said <= 0:
        return Came("amps", "wasteful", "Nothing flows.", right)
    words = f"It could be {right}: this takes about {amps.current_a / said:.2g} times as long."
    if abs(said / charger.step_a - round(said / charger.step_a)) > 1e-6:
        words = f"It is set in steps of {n(charger.step_a)} A."
    return Came("amps", "wasteful", words, right)


def _gives(amps: Amps) -> AmpsLimit:
    """What charger, supply and leads let through, whatever the pack may have."""
    return next(x for x in amps.limits if x.id not in PACK_LIMITS)


def _end(pack: Pack, right_v: float, said: float) -> Came:
    right = f"{right_v:.2f} V"
    if abs(said - right_v) <= END_V_OFF + 1e-9:
        return Came("end_v", "right", "Right.", right)
    each = said / pack.series
    if over_full(pack.chemistry, each):
        words = f"{each:.2f} V for each cell is over full: that is how fires start."
        return Came("end_v", "dangerous", words, right)
    if said > right_v:
        words = f"{each:.2f} V a cell does no harm at once; the house ends at {right}, since more wears it."
        return Came("end_v", "wasteful", words, right)
    return Came("end_v", "wasteful", f"{each:.2f} V a cell: it never gets full.", right)


def _timer(by: Chance, of: ToCharge) -> TaskQuestion:
    minutes = [round(f * of.settings.timer_min) for f in _FACTORS]
    options = [AnswerOption(str(m), f"{m} min") for m in minutes]
    return TaskQuestion(
        "timer", "The safety timer?", Pick((*by.mixed(options), AnswerOption(OFF, "off")), "one")
    )


def _cutoff(by: Chance, of: ToCharge) -> TaskQuestion:
    right = of.settings.cutoff_mah
    others = [round(f * right / CUTOFF_STEP_MAH) * CUTOFF_STEP_MAH for f in _FACTORS if f != 1]
    options = [AnswerOption(str(mah), f"{mah} mAh") for mah in (right, *others)]
    pick = Pick((*by.mixed(options), AnswerOption(OFF, "off")), "one")
    return TaskQuestion("cutoff", "The capacity cut-off?", pick)


def _guard(q: TaskQuestion, settings: ChargerSettings, said: str) -> Came:
    """What a timer or a cut-off ends: a charge that does not end by itself, and no sound one."""
    most, unit = (settings.timer_min, "min") if q.id == "timer" else (settings.cutoff_mah, "mAh")
    right = f"{most} {unit}"
    if said == str(most):
        return Came(q.id, "right", "Right: over the most that a sound pack takes, and not far.", right)
    outcome: Outcome = "wasteful"
    words = f"{said} {unit} ends the charge before it is full."
    if said == OFF or float(said) > most:
        outcome = "dangerous"
        words = "Then nothing ends a charge that does not end by itself."
        if said != OFF:
            words = f"{said} {unit}: what does not end by itself is far past full by then. {right} ends it."
    return Came(q.id, outcome, words, right)


def _working(of: ToCharge) -> Working:
    found, s = amps_working(of.amps, of.by.charger), of.settings
    cell = chemistry(of.made.pack.chemistry)
    nominal_v = of.made.pack.series * cell.nominal_v
    cells = Step("Cells", "printed volts ÷ volts of a cell", f"{plain_number(nominal_v)} ÷ {cell.nominal_v}")
    more = [x for name in ("end_v", "timer", "cutoff") if name in s.workings for x in s.workings[name].steps]
    return Working(found.title, (cells, *found.steps, *more), found.note)
