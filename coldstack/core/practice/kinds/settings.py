"""Set a charger for a pack: program, cells, amps in its step, end volts."""

from __future__ import annotations

from coldstack.core.cells.chemistry import CHEMISTRIES, chemistry
from coldstack.core.charging.amps import Amps, Feed, amps_working, charge_amps, pack_limit
from coldstack.core.charging.charger import Charger
from coldstack.core.packs.pack import Pack
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.gear import made_up_charger, made_up_pack
from coldstack.core.practice.task import (
    Answers,
    Came,
    Exercise,
    Judged,
    Level,
    Number,
    Option,
    Pick,
    Question,
    Task,
    judged,
    number_of,
    one_of,
)
from coldstack.core.rules.house_rules import HouseRules, for_chemistry
from coldstack.core.units import plain_number

ID, NAME = "settings", "Set the charger"
PROGRAM = Question(
    "program",
    "Which program?",
    Pick(tuple(Option(c.id, c.name) for c in CHEMISTRIES.values()), "one"),
)
CELLS = Question("series", "How many cells?", Number("", 1.0))


def make(by: Chance, seed: int, level: Level, rules: HouseRules) -> Exercise:
    """A pack's label and a charger's sheet; what to set."""
    made = made_up_pack(by, level, "the pack")
    charger, sheet = made_up_charger(by, level)
    pack = made.pack
    amps = charge_amps(pack, charger, rules=rules, feed=Feed("mains"))
    asked = (PROGRAM, CELLS, Question("amps", "How many amps?", Number("A", charger.step_a)))
    words = f"Charge it by the house rules “{rules.name}”, as fast as all of it allows."
    task = Task(ID, level, seed, words, (made.label, sheet), asked)

    def judge(answers: Answers) -> Judged:
        came = (
            _program(pack, one_of(answers, PROGRAM), rules),
            _cells(pack, number_of(answers, "series")),
            _amps(pack, charger, amps, number_of(answers, "amps"), rules),
        )
        return judged(came, amps_working(amps, charger), rules.cited)

    return Exercise(task, judge)


def _program(pack: Pack, chosen: str, rules: HouseRules) -> Came:
    mine, set_to = chemistry(pack.chemistry), chemistry(chosen)
    if chosen == pack.chemistry:
        return Came("program", "right", "Right.", mine.name)
    # a lithium cell on a program for peaks has no end; on one of higher volts it ends over full
    over = _ends_at(chosen, rules) - _ends_at(pack.chemistry, rules)
    lithium = mine.charge_method == "cc_cv"
    if lithium and set_to.charge_method != "cc_cv":
        words = f"{set_to.name} waits for a peak that {mine.name} never shows: it is charged until it burns."
        return Came("program", "dangerous", words, mine.name)
    if not lithium:
        words = f"{set_to.name} holds volts that mean nothing to {mine.name}, and knows no end for it."
        return Came("program", "dangerous", words, mine.name)
    if over > 0:
        words = f"{set_to.name} ends {1000 * over:.0f} mV a cell over what {mine.name} may have."
        return Came("program", "dangerous", words, mine.name)
    if over < 0:
        words = f"{set_to.name} ends {-1000 * over:.0f} mV a cell too low: it never gets full."
        return Came("program", "wasteful", words, mine.name)
    words = f"{set_to.name} ends at the same volts, and stores and warns by others: choose its own."
    return Came("program", "wasteful", words, mine.name)


def _ends_at(chemistry_id: str, rules: HouseRules) -> float:
    return for_chemistry(rules, chemistry_id).full_v


def _cells(pack: Pack, said: float) -> Came:
    right = f"{pack.series} cell{'s' * (pack.series > 1)}"
    if said == pack.series:
        return Came("series", "right", "Right.", right)
    if said > pack.series:
        times = said / pack.series
        words = f"Set to {said:g} cells it goes on past full, to {times:.2g} times the end volts of each."
        return Came("series", "dangerous", words, right)
    return Came("series", "wasteful", f"Set to {said:g} cells it stops at once, or refuses.", right)


def _amps(pack: Pack, charger: Charger, amps: Amps, said: float, rules: HouseRules) -> Came:
    right, most = f"{plain_number(amps.current_a)} A", pack_limit(pack, rules)
    if abs(said - amps.current_a) < 1e-6:
        return Came("amps", "right", f"Right. {amps.binding.name} binds.", right)
    if said > most.current_a + 1e-9:
        words = f"{plain_number(said)} A is over what the pack takes, {plain_number(most.current_a)} A."
        return Came("amps", "dangerous", words, right)
    if said > amps.current_a:
        words = (
            f"{amps.binding.name} allows {plain_number(amps.binding.current_a)} A; the charger gives no more."
        )
        return Came("amps", "wasteful", words, right)
    if said <= 0:
        return Came("amps", "wasteful", "Nothing flows.", right)
    words = f"It could be {right}: this takes {amps.current_a / said:.2g} times as long."
    return Came("amps", "wasteful", words, right)
