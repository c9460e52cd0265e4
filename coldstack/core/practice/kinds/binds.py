"""What binds: of all limits on the amps, the one that is the tightest."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from coldstack.core.chain.plugs import plug_family
from coldstack.core.charging.amps import PACK_LIMITS, Amps, Feed, amps_working
from coldstack.core.charging.charger import SUPPLY_EFFICIENCY, Charger, Supply
from coldstack.core.matching.charge import ChargeFit, charge_fit
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.charged import BURNS_TIMES
from coldstack.core.practice.gear import a_charger, a_pack
from coldstack.core.practice.kinds.settings import amps_came
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
    TaskQuestion,
    Thing,
    judged,
    number_of,
    one_of,
)
from coldstack.core.units import lower_first, plain_number, upper_first

ID, NAME = "binds", "What binds?"
PORTS, _TRIES = 4, 50
_ALIKE_A = 1e-6


def make(by: Chance, given: Given) -> Exercise:
    """A pack's label, a charger's sheet, how many ports are in use and what feeds it; which limit binds."""
    for _ in range(_TRIES):
        made, on = a_pack(by, given), a_charger(by, given, ports=1 if given.level == "first_day" else PORTS)
        feed, fed = _feed(by, given, on.charger)
        fit = charge_fit(made.pack, on.charger, rules=given.rules, feed=feed, bench=on.bench)
        if fit.amps is not None and fit.amps.current_a > 0:
            return _asked(by, given, fit.amps, (made.label, on.sheet, *_between(fit), *fed), fit)
        given = replace(given, shelf=None)
    raise AssertionError("no made-up charger charges any made-up pack")


def _feed(by: Chance, given: Given, charger: Charger) -> tuple[Feed, tuple[Thing, ...]]:
    """The mains, or a car battery, and what its label says."""
    used = by.one_of(range(1, charger.ports + 1))
    if given.level != "expert" or "dc" not in charger.inputs or given.shelf is not None:
        return Feed("mains", ports_in_use=used), ()
    battery = Supply("practice", "the car battery", "battery", 12.6, 150.0)
    lines = (f"gives {battery.power_w:.0f} W", f"{100 * SUPPLY_EFFICIENCY:.0f} % of it reach the packs")
    return Feed("dc", battery, used), (Thing("sheet", battery.name, lines),)


def _between(fit: ChargeFit) -> Iterator[Thing]:
    """What lies between the pack and the charger."""
    for piece in fit.path.pieces if fit.path else ():
        first, second = (plug_family(end.family).name for end in piece.ends)
        yield Thing("sheet", piece.name, (f"{first} to {second}", f"{piece.awg:g} AWG"))


def _asked(by: Chance, given: Given, amps: Amps, things: tuple[Thing, ...], fit: ChargeFit) -> Exercise:
    pack, charger, used = fit.pack, fit.charger, fit.feed.ports_in_use
    options = tuple(AnswerOption(x.id, upper_first(x.name)) for x in by.mixed(amps.limits))
    which = TaskQuestion("limit", "What sets the amps?", Pick(options, "one"))
    asked = [which]
    if given.level != "first_day":
        asked.append(TaskQuestion("amps", "So how many amps?", Number("A", charger.step_a)))
    ports = "" if charger.ports == 1 else f" {used} of its {charger.ports} ports are in use."
    words = f"It is to be charged by the house rules “{given.rules.name}”.{ports}"
    own = given.is_own(pack)
    task = PracticeTask(ID, given.level, given.seed, words, things, tuple(asked), own)

    def judge(answers: Answers) -> JudgedAnswer:
        came = [_limit(amps, one_of(answers, which))]
        if len(asked) > 1:
            came.append(amps_came(pack, charger, amps, number_of(answers, "amps"), given.rules))
        return judged(tuple(came), amps_working(amps, charger), given.rules.cited)

    return Exercise(task, judge)


def _limit(amps: Amps, said: str) -> Came:
    chosen, tightest, n = {x.id: x for x in amps.limits}[said], amps.binding, plain_number
    # of two that are as tight either one binds
    if chosen.current_a - tightest.current_a <= _ALIKE_A:
        words = f"Right: {n(chosen.current_a)} A, and the others allow as much or more."
        return Came("limit", "right", words, tightest.name)
    least = f"{lower_first(tightest.name)}, {n(tightest.current_a)} A"
    words = f"That allows {n(chosen.current_a)} A; tighter is {least}."
    if tightest.id not in PACK_LIMITS:
        return Came("limit", "wasteful", words, tightest.name)
    times = chosen.current_a / tightest.current_a
    words += f" Set by that the pack is charged with {times:.2g} times what it may have."
    outcome: Outcome = "dangerous" if tightest.id != "rules" and times > BURNS_TIMES else "wasteful"
    return Came("limit", outcome, words, tightest.name)
